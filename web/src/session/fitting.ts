import type { Coat, Piece, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { choosePiece } from './choice';
import { newId } from './newId';
import { editPiece } from './pieces';
import { editScene } from './scenes';
import { together } from './store';

/** What is known of an element of a page, as its browser has computed it. */
export interface SeenElement {
  /** Its number in the page. */
  number: number;
  /** What a person calls it: its first class or its tag. */
  name: string;
  /** Its box, in px of the page. */
  box: { x: number; y: number; w: number; h: number };
  /** The radius of each corner, in px. */
  radii: [number, number, number, number];
  /** Its fill as CSS; none where it has none. */
  fill: string | null;
  /** What lies behind it, as CSS. */
  ground: string;
  /** What lies behind all of the page, as CSS. */
  page: string;
  /** Its own `box-shadow`, empty where it has none. */
  shadow: string;
  /** Its own `filter`, empty where it has none. */
  filter: string;
  /** Whether it is there to be used: a button, a link, a field. */
  used: boolean;
  /** The texts in it. */
  texts: Schemas['FittedText'][];
}

/** What an element begins with. */
export type Beginning =
  | { kind: 'own' }
  | { kind: 'finish'; finish: string }
  | { kind: 'coats'; coats: Coat[] };

/** Which elements are meant. */
export interface Meant {
  selector: string;
  strength: Schemas['Strength'];
  count: number;
}

/** Gives some elements of a page depth: a piece stands for them, which wears it. */
export function fit(seen: SeenElement, { selector, strength, count }: Meant, beginning: Beginning) {
  const id = newId();
  const { box, radii } = seen;
  const wear: Piece['wear'] =
    beginning.kind === 'finish'
      ? { finish: beginning.finish }
      : { coats: beginning.kind === 'coats' ? beginning.coats : [] };
  const piece: Piece = {
    id,
    name: selector.slice(0, 120),
    shape: { kind: 'box', w: round(box.w), h: round(box.h), radii },
    x: round(Math.min(box.x, MOST_PX - box.w)),
    y: round(Math.min(box.y, MOST_PX - box.h)),
    fill: seen.fill ? { kind: 'solid', colour: seen.fill } : { kind: 'none' },
    wear,
    control: true,
    fitting: {
      selector,
      strength,
      own: seen.shadow.slice(0, 400),
      count,
      used: seen.used,
      behind: seen.ground,
      texts: seen.texts,
    },
  };
  together(() => {
    editScene((scene) => {
      // It reaches as far down the page as its elements do.
      scene.width = reaching(scene.width, piece.x + box.w);
      scene.height = reaching(scene.height, piece.y + box.h);
      scene.ground = { kind: 'solid', colour: seen.page };
      scene.pieces.push(piece);
    });
  });
  choosePiece(id);
}

/** Px that a scene has at most across and down. */
const MOST_PX = 8000;
/** Px around an element in which its shadows are measured. */
const AROUND = 128;

function reaching(side: number, end: number): number {
  return Math.max(side, Math.min(Math.ceil(end) + AROUND, MOST_PX));
}

/** The coats that an element's own depth stands for. */
export async function coatsOf({ shadow, filter }: SeenElement): Promise<Coat[]> {
  const css = [shadow && `box-shadow: ${shadow}`, filter && `filter: ${filter}`].filter(Boolean).join('; ');
  const { coats } = await askCore('/api/css', { css });
  return coats;
}

/** Whether the own shadows of elements stay under their coats. */
export function keepOwn(piece: string, keeps: boolean) {
  editPiece(piece, (mine) => {
    if (mine.fitting) mine.fitting.keeps_own = keeps;
  });
}

/** Rules for some elements become important. */
export function makeImportant(pieces: string[]) {
  together(() => {
    for (const piece of pieces) {
      editPiece(piece, (mine) => {
        if (mine.fitting) mine.fitting.strength = 'important';
      });
    }
  });
}

function round(px: number): number {
  return Math.round(px * 100) / 100;
}
