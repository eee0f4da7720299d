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
  /** Its own `box-shadow`, empty where it has none. */
  shadow: string;
  /** Its own `filter`, empty where it has none. */
  filter: string;
}

/** What an element begins with. */
export type Beginning =
  | { kind: 'own' }
  | { kind: 'finish'; finish: string }
  | { kind: 'coats'; coats: Coat[] };

/** Gives some elements of a page depth: a piece stands for them, which wears it. */
export function fit(
  seen: SeenElement,
  { selector, strength }: { selector: string; strength: Schemas['Strength'] },
  beginning: Beginning,
) {
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
    x: round(box.x),
    y: round(box.y),
    fill: seen.fill ? { kind: 'solid', colour: seen.fill } : { kind: 'none' },
    wear,
    control: true,
    fitting: { selector, strength, own: seen.shadow.slice(0, 400) },
  };
  together(() => {
    editScene((scene) => {
      scene.ground = { kind: 'solid', colour: seen.ground };
      scene.pieces.push(piece);
    });
  });
  choosePiece(id);
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

function round(px: number): number {
  return Math.round(px * 100) / 100;
}
