/** A number with the word for what is counted. */
export function counted(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`;
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A number with one decimal where it has one. */
export function tenths(value: number): string {
  return String(Math.round(value * 10) / 10);
}

/** What a project holds: one, several. */
export const things = {
  scene: ['scene', 'scenes'],
  piece: ['piece', 'pieces'],
  coat: ['coat', 'coats'],
  finish: ['finish', 'finishes'],
  light: ['light', 'lights'],
  swatch: ['swatch', 'swatches'],
  theme: ['theme', 'themes'],
} satisfies Record<string, [string, string]>;

export type Thing = keyof typeof things;
