import type { Piece, Scene } from '../core/client';
import { interaction } from '../core/constants';
import { words } from '../messages';
import { choosePiece } from './choice';
import { sceneOf } from './lookup';
import { freeName } from './names';
import { newId } from './newId';
import { withNewParts } from './pieces';
import { edit, useDocument } from './store';
import { listOf, withParts } from './tree';

/** The piece that a piece and its alternatives stand for. */
export function originalOf(piece: Piece): string {
  return piece.alternative_of ?? piece.id;
}

/** The original and what is tried in its place, in the order of the scene; only the piece itself when nothing is. */
export function triedOf(scene: Scene, piece: Piece): Piece[] {
  return listOf(scene, piece.id).filter((other) => originalOf(other) === originalOf(piece));
}

/** Puts a copy of a piece beside it, to be tried in its place. */
export function addAlternative(piece: Piece, size: { w: number; h: number }) {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!current) return;
  const id = newId();
  const right =
    Math.max(...triedOf(current, piece).map((other) => other.x)) + size.w + interaction.alternative_gap;
  const fits = right + size.w <= current.width;
  const copy: Piece = {
    ...withNewParts(structuredClone(piece)),
    id,
    name: freeName(words.session.alternative(piece.name), withParts(current.pieces)),
    alternative_of: originalOf(piece),
    x: fits ? right : piece.x,
    y: fits ? piece.y : piece.y + size.h + interaction.alternative_gap,
  };
  edit((draft) => {
    const pieces = listOf(sceneOf(draft, scene), piece.id);
    pieces.splice(pieces.findIndex((other) => other.id === piece.id) + 1, 0, copy);
  });
  choosePiece(id);
}

/** Keeps one of the pieces tried in the original's place and name; the others go. */
export function chooseAlternative(chosen: Piece) {
  const { scene } = useDocument.getState();
  const id = originalOf(chosen);
  edit((draft) => {
    const list = listOf(sceneOf(draft, scene), id);
    const original = list.find((other) => other.id === id);
    if (!original) return;
    const { name, x, y } = original;
    Object.assign(original, structuredClone(chosen), { id, name, x, y, alternative_of: null });
    list.splice(0, list.length, ...list.filter((other) => other.alternative_of !== id));
    const left = new Set(list.map((other) => other.id));
    for (const piece of list) {
      if (piece.clip_to && !left.has(piece.clip_to)) piece.clip_to = id;
    }
  });
  choosePiece(id);
}
