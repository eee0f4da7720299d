import type { Schemas } from './client';
import constants from './constants.json';

type Range = [number, number];

/** What each quantity of the document may be, as the core has it. */
export const ranges = constants.ranges as unknown as Record<keyof typeof constants.ranges, Range>;

/** How many there may be of something, and how long texts may be. */
export const limits = constants.limits;

/** Weights that ship, by family. */
export const fonts: Record<string, number[]> = constants.fonts;

/** Values to begin with. */
export const defaults = constants.defaults as unknown as {
  box: Extract<Schemas['Shape'], { kind: 'box' }>;
  ellipse: Extract<Schemas['Shape'], { kind: 'ellipse' }>;
  text: Extract<Schemas['Shape'], { kind: 'text' }>;
  paper: Schemas['Fill'];
  ink: Schemas['Fill'];
  grain: Schemas['Grain'];
  falloff: Schemas['Falloff'];
};

/** A range of shares in percents. */
export function percents([low, high]: Range): Range {
  return [low * 100, high * 100];
}
