import type { Schemas } from '../core/client';
import { words } from '../messages';

export type Screen = Schemas['Screen'];

/** Screens and eyes to look through. */
export const screens: { value: Screen['kind']; label: string }[] = [
  { value: 'plain', label: words.check.thisScreen },
  { value: 'dim', label: words.check.dimScreen },
  { value: 'sunlight', label: words.check.inSunlight },
  { value: 'low_contrast', label: words.check.lowContrast },
  { value: 'six_bits', label: words.check.sixBits },
  { value: 'night', label: words.check.nightFilter },
  { value: 'protan', label: words.check.reducedRed },
  { value: 'deutan', label: words.check.reducedGreen },
  { value: 'tritan', label: words.check.reducedBlue },
];

export function screenOf(kind: string, severity: number): Screen {
  const known = screens.find((screen) => screen.value === kind)?.value ?? 'plain';
  return isEye(known) ? { kind: known, severity } : { kind: known };
}

export function isEye(kind: Screen['kind']): kind is 'protan' | 'deutan' | 'tritan' {
  return kind === 'protan' || kind === 'deutan' || kind === 'tritan';
}
