import type { Schemas } from '../core/client';

export type Screen = Schemas['Screen'];

/** Screens and eyes to look through. */
export const screens: { value: Screen['kind']; label: string }[] = [
  { value: 'plain', label: 'This screen' },
  { value: 'dim', label: 'A dim screen' },
  { value: 'sunlight', label: 'In sunlight' },
  { value: 'low_contrast', label: 'A poor panel' },
  { value: 'six_bits', label: '6 bits a channel' },
  { value: 'night', label: 'A warm night filter' },
  { value: 'protan', label: 'Eyes weak in red' },
  { value: 'deutan', label: 'Eyes weak in green' },
  { value: 'tritan', label: 'Eyes weak in blue' },
];

export function screenOf(kind: string, severity: number): Screen {
  const known = screens.find((screen) => screen.value === kind)?.value ?? 'plain';
  return isEye(known) ? { kind: known, severity } : { kind: known };
}

export function isEye(kind: Screen['kind']): kind is 'protan' | 'deutan' | 'tritan' {
  return kind === 'protan' || kind === 'deutan' || kind === 'tritan';
}
