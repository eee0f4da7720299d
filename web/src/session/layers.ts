import type { Coat } from '../core/client';
import { coatLayers } from '../core/constants';

/** Where coats lie, nearest the eye first. */
export const layers = ['on', 'under', 'behind'] as const;

export type Layer = (typeof layers)[number];

/** Where a coat lies, as the core has it. */
export function layerOf(coat: Coat): Layer {
  return coatLayers[coat.kind === 'ramp' ? (`ramp:${coat.shadow}` as const) : coat.kind];
}
