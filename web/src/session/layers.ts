import type { Coat } from '../core/client';

/** Where coats lie, nearest the eye first. */
export const layers = ['on', 'under', 'behind'] as const;

export type Layer = (typeof layers)[number];

export function layerOf(coat: Coat): Layer {
  switch (coat.kind) {
    case 'drop':
    case 'extrude':
    case 'cast':
      return 'under';
    case 'backdrop':
      return 'behind';
    case 'ramp':
      return coat.shadow === 'drop' ? 'under' : 'on';
    default:
      return 'on';
  }
}
