import type { Schemas } from './client';
import constants from './constants.json';

type Range = [number, number];

/** What each quantity of the document may be, as the core has it. */
export const ranges = constants.ranges as unknown as Record<keyof typeof constants.ranges, Range>;

/** The version of the form of documents. */
export const schema: number = constants.schema;

/** How many there may be of something, and how long texts may be. */
export const limits = constants.limits;

/** What the names of a project's CSS may begin with. */
export const prefix = new RegExp(constants.prefix);

type CoatLayerKey = Exclude<Schemas['Coat']['kind'], 'ramp'> | 'ramp:drop' | 'ramp:inner';

// A kind that the core does not name is an error of types here.
const layersByKind: Record<CoatLayerKey, string> = constants.coatLayers;

/** Where coats of each kind lie; a ramp lies where its shadows do. */
export const coatLayers = layersByKind as Record<CoatLayerKey, 'on' | 'under' | 'behind'>;

/** Paths of the queries that the core answers, wherever it runs. */
export const queries: string[] = constants.queries;

/** Falloffs to begin with, by name. */
export const falloffs: { name: string; points: Schemas['FalloffPoint'][] }[] = constants.falloffs;

/** Weights that ship, by family. */
export const fonts: Record<string, number[]> = constants.fonts;

/** The files of the fonts that ship. */
export const fontFaces: { family: string; weight: string; file: string }[] = constants.fontFaces;

/** Numbers that handles, fields and imports take. */
export const interaction = constants.interaction as unknown as Omit<
  typeof constants.interaction,
  'ramp' | 'strengths'
> & {
  ramp: Record<'growth' | 'lean' | 'total', Range>;
  /** How strong a rule for elements of a page may be, with a selector as strong as one in the place of `%`. */
  strengths: [Schemas['Strength'], string][];
};

/** Values to begin with. */
export const defaults = constants.defaults as unknown as {
  box: Extract<Schemas['Shape'], { kind: 'box' }>;
  ellipse: Extract<Schemas['Shape'], { kind: 'ellipse' }>;
  text: Extract<Schemas['Shape'], { kind: 'text' }>;
  paper: Schemas['Fill'];
  ink: Schemas['Fill'];
  grain: Schemas['Grain'];
  falloff: Schemas['Falloff'];
  rig: Schemas['Rig'];
};

/** How colours are written in numbers; the last is the most even for the eye. */
export const notations = constants.notations as {
  form: 'rgb' | 'hsl' | 'oklch';
  parts: { name: string; unit: string; max: number; decimals: number }[];
  /** CSS with places for the numbers. */
  opaque: string;
  translucent: string;
}[];

const names = new Set(constants.colourNames);
const functions = /^(rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\([^()]*\)$/;

/**
 * Whether a text is a colour by itself, as the core takes it: no keyword, variable or relative colour whose value depends
 * on where it stands.
 */
export function isColour(text: string): boolean {
  const colour = text.trim().toLowerCase();
  const known = colour.startsWith('#') || names.has(colour) || functions.test(colour);
  return known && !/\(from\s/.test(colour) && CSS.supports('color', colour);
}

/** A colour in CSS, from its numbers in one of the notations. */
export function written(notation: (typeof notations)[number], parts: number[], alpha: number): string {
  const css =
    alpha < 1 ? notation.translucent.replace('{alpha}', `${Number(alpha.toFixed(4))}`) : notation.opaque;
  return css.replace(/\{(\d)\}/g, (_, at) => `${parts[Number(at)]}`);
}

/** A range of shares in percents. */
export function percents([low, high]: Range): Range {
  return [low * 100, high * 100];
}
