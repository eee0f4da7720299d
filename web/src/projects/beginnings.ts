import { answer, api, type Coat, type Piece, type Project, type Schemas } from '../core/client';
import { defaults, schema } from '../core/constants';
import { askCore } from '../core/core';
import { words } from '../messages';
import { say } from '../page/toast';
import { nameOfFile } from '../session/assets';
import type { PlacedFile } from '../session/dropped';
import { addIcons, isSvg } from '../session/iconSet';
import { isMarkup, isPage, keepPage, pastedPage, sceneOfPage } from '../session/pageScenes';
import { iconOfText, type Made, pieceOfFile } from '../session/placeFile';
import { isCss, readCss } from '../session/takeCss';

/** A project as it was just made, with the piece to begin with. */
export interface Begun {
  id: string;
  scene?: string;
  piece?: string;
  /** The view that it opens in, where that is not the workbench. */
  view?: 'icons' | 'page';
}

const { projects: said } = words;
const [WIDTH, HEIGHT] = [640, 420];

/** A piece to begin with, and the texts that lie on it: they are a group then. */
interface Specimen extends Made {
  texts?: readonly Label[];
  /** It is pressed and pointed at as one. */
  control?: boolean;
}

interface Label {
  name: string;
  string: string;
  size: number;
  weight: number;
  /** From the left and top of the piece, and how wide its lines may be. */
  at: { x: number; y: number; width: number };
  align: 'left' | 'centre';
}

/** Specimens to begin with: one piece in the middle of a plain ground. */
export const specimens = {
  card: {
    name: said.card,
    shape: { kind: 'box', w: 280, h: 180, radii: 16 },
    size: { w: 280, h: 180 },
    fill: { kind: 'solid', colour: '#ffffff' },
    texts: [
      label(said.heading, said.headline, 24, 700, { x: 24, y: 28, width: 232 }),
      label(said.line, said.lineOfText, 15, 400, { x: 24, y: 70, width: 232 }),
    ],
  },
  button: {
    name: said.button,
    shape: { kind: 'box', w: 180, h: 56, radii: 14 },
    size: { w: 180, h: 56 },
    fill: { kind: 'solid', colour: '#ffffff' },
    texts: [label(said.label, said.button, 18, 600, { x: 0, y: 17, width: 180 }, 'centre')],
    control: true,
  },
  headline: {
    name: said.headline,
    shape: { ...defaults.text, string: said.headline, size: 88 },
    size: { w: 380, h: 106 },
    fill: defaults.ink,
  },
} as const satisfies Record<string, Specimen>;

function label(
  name: string,
  string: string,
  size: number,
  weight: number,
  at: Label['at'],
  align: Label['align'] = 'left',
): Label {
  return { name, string, size, weight, at, align };
}

/** A plain project with what it begins with in its only scene. */
function projectWith(
  name: string,
  { name: of, shape, size, fill, asset, texts, control }: Specimen,
  coats: Coat[] = [],
): Project {
  const at = { x: Math.round((WIDTH - size.w) / 2), y: Math.round((HEIGHT - size.h) / 2) };
  const piece: Piece = { id: 'piece', name: of, shape, ...at, fill, wear: { coats } };
  const whole = texts ? groupOf(piece, texts, control ?? false) : piece;
  const scene = {
    id: 'scene',
    name: said.firstScene,
    width: WIDTH,
    height: HEIGHT,
    theme: 'light',
    ground: { kind: 'solid', colour: '#e6e6e6' } as const,
    pieces: [whole],
  };
  return {
    schema,
    name,
    themes: [{ id: 'light', name: said.lightTheme, scheme: 'light' }],
    swatches: [],
    lights: [{ id: 'main', name: said.mainLight, bearing: 0, colour: '#ffffff', strength: 1 }],
    finishes: [],
    scale: [],
    assets: asset ? [asset] : [],
    scenes: [scene],
    fallbacks: true,
  };
}

/** A piece with texts on it, as one thing. */
function groupOf(piece: Piece, texts: readonly Label[], control: boolean): Piece {
  const parts = texts.map(
    ({ name, string, size, weight, at: { x, y, width }, align }, number): Piece => ({
      id: `text-${number + 1}`,
      name,
      shape: { ...defaults.text, string, size, weight, width, align },
      x,
      y,
      fill: defaults.ink,
      wear: { coats: [] },
    }),
  );
  const face = { ...piece, name: said.face(piece.name), x: 0, y: 0 };
  const { name, x, y } = piece;
  const shape: Piece['shape'] = { kind: 'group', parts: [face, ...parts] };
  return { id: 'group', name, shape, x, y, control, wear: { coats: [] } };
}

async function begin(document: Project): Promise<Begun> {
  const { id } = answer(await api.POST('/api/projects', { body: document }));
  const scene = document.scenes[0];
  const [piece, ...others] = scene?.pieces ?? [];
  // Of a button it is the face that gets depth first.
  const first = piece?.shape.kind === 'group' ? piece.shape.parts[0] : piece;
  return { id, scene: scene?.id, piece: others.length === 0 ? first?.id : undefined };
}

export function beginWith(specimen: keyof typeof specimens): Promise<Begun> {
  return begin(projectWith(said.newProject, specimens[specimen]));
}

export async function beginWithDemo(): Promise<Begun> {
  return begin(answer(await api.GET('/api/demo')));
}

/** A card that has the coats some CSS stands for. */
export async function beginWithCss(css: string): Promise<Begun> {
  const { coats } = await readCss(css);
  return begin(projectWith(said.newProject, specimens.card, coats));
}

/** A copy of a project that is there. */
export async function beginWithCopy(id: string, name: string): Promise<Begun> {
  const { document } = answer(await api.GET('/api/projects/{id}', { params: { path: { id } } }));
  return begin({ ...document, name });
}

/** An icon, a picture, a project, a token file or a style sheet, by what is in it. */
export async function beginWithFile(file: File): Promise<Begun> {
  const name = nameOfFile(file);
  if (/\.(svg|png|jpe?g|webp)$/i.test(file.name)) return begin(projectWith(name, await pieceOfFile(file)));
  const text = await file.text();
  if (file.name.endsWith('.json') && isProject(text)) return begin(JSON.parse(text));
  return begin(await imported(name, file.name.endsWith('.json') ? 'tokens' : 'css', text));
}

/** Files, or those of a folder: a page with what it needs, an icon set, or one file of another kind. */
export async function beginWithFiles(files: PlacedFile[]): Promise<Begun> {
  const icons = files.filter(({ path }) => isSvg(path));
  const pages = files.filter(({ path }) => isPage(path));
  // A preview somewhere within an icon set is no page that somebody works on.
  if (pages.length > 0 && depthOf(pages) <= depthOf(icons)) return beginWithPage(files);
  if (icons.length > 1) return beginWithIcons(icons);
  const file = icons[0]?.file ?? files[0]?.file;
  if (!file) throw new Error(said.nothingInFolder);
  return beginWithFile(file);
}

/** In how many folders the uppermost of some files lies. */
function depthOf(files: PlacedFile[]): number {
  return Math.min(...files.map(({ path }) => path.split('/').length));
}

/** Many SVG files: a project whose finishes are those to start from, and the sheet of the files. */
async function beginWithIcons(files: PlacedFile[]): Promise<Begun> {
  const project = await withStarters(said.iconSet);
  await addIcons(files);
  const { id } = await begin(project);
  return { id, view: 'icons' };
}

/** A page of one's own: a project whose finishes are those to start from, and a scene with the page as its ground. */
async function beginWithPage(files: PlacedFile[]): Promise<Begun> {
  const kept = await keepPage(files);
  const project = await withStarters(kept.asset.name || said.newProject);
  const scene = sceneOfPage('page', kept, 'light');
  const { id } = await begin({ ...project, assets: [kept.asset], scenes: [scene, ...project.scenes] });
  if (kept.missing.length > 0) say(words.pages.missing(kept.missing));
  return { id, view: 'page' };
}

async function withStarters(name: string): Promise<Project> {
  const bare = projectWith(name, specimens.card);
  const starters = await askCore('/api/starters', { project: bare, scene: 'scene', piece: 'group' });
  return {
    ...bare,
    finishes: starters.map((starter, at) => ({
      id: `finish-${at + 1}`,
      name: starter.name,
      coats: starter.coats,
    })),
  };
}

/** Text that was pasted: an icon, markup or CSS; null where it is none of them. */
export function beginWithText(text: string): Promise<Begun> | null {
  const icon = iconOfText(text, words.bench.iconSvg);
  if (icon) return beginWithFile(icon);
  if (isMarkup(text)) return beginWithPage(pastedPage(text, ''));
  return isCss(text) ? beginWithCss(text) : null;
}

function isProject(text: string): boolean {
  try {
    const found = JSON.parse(text);
    return typeof found.schema === 'number' && Array.isArray(found.scenes);
  } catch {
    return false;
  }
}

/** A piece, or the lowest part of a group, with other coats. */
function wearing(piece: Piece, wear: Piece['wear']): Piece {
  if (piece.shape.kind !== 'group') return { ...piece, wear };
  const [face, ...others] = piece.shape.parts;
  return face ? { ...piece, shape: { ...piece.shape, parts: [wearing(face, wear), ...others] } } : piece;
}

/** A project with the finishes a file brings; the first of them is on a card. */
async function imported(name: string, format: Schemas['IncomingFormat'], text: string): Promise<Project> {
  const empty = projectWith(name, specimens.card);
  const body = {
    project: { ...empty, scenes: [] },
    format,
    files: [{ name: '', text }],
    settings: { root_font_size: null, set: {}, by_look: true },
  };
  const found = answer(await api.POST('/api/import', { body }));
  const { finishes, swatches, lights, themes } = found;
  if (finishes.length + swatches.length === 0) throw new Error(said.nothingInFile(found.diagnostics.length));
  const [first] = finishes;
  const wear = first ? { finish: first.id } : { coats: [] };
  const scenes = empty.scenes.map((scene) => ({
    ...scene,
    pieces: scene.pieces.map((piece) => wearing(piece, wear)),
  }));
  return {
    ...empty,
    themes: [...empty.themes, ...themes],
    finishes,
    swatches,
    lights: [...(empty.lights ?? []), ...lights],
    scenes,
  };
}
