import type { Schemas } from '../core/client';

/** What is written where nobody chose anything. */
export const asUsual: Schemas['SheetOptions'] = {
  finish: null,
  theme: null,
  numbers: 'fewest',
  style: 'living',
  forms: 'worn',
  scenes: false,
  pieces: 'depth',
  token_form: 'objects',
  modes: false,
  backdrops: 'left_out',
  layer: null,
  register_lights: false,
  light_dark: false,
  older_colours: false,
  module: false,
};
