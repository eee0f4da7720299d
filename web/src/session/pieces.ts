import type { Piece, Schemas } from '../core/client';
import { defaults, interaction } from '../core/constants';
import { keepFocus } from '../page/keepFocus';
import { choosePiece } from './choice';
import { pieceOf, sceneOf } from './lookup';
import { freeName } from './names';
import { newId } from './newId';
import { edit, useDocument } from './store';

type Shape = Schemas['Shape'];

/** Changes one piece of the open scene. */
export function editPiece(id: string, change: (piece: Piece) => void, gesture = false) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    const piece = pieceOf(sceneOf(draft, scene), id);
    if (piece) change(piece);
  }, gesture);
}

/** Changes several pieces of the open scene alike. */
export function editPieces(ids: string[], change: (piece: Piece) => void, gesture = false) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    for (const piece of sceneOf(draft, scene)?.pieces ?? []) {
      if (ids.includes(piece.id)) change(piece);
    }
  }, gesture);
}

/** Puts a piece on top of a scene, in its middle, and chooses it. */
export function addPiece(
  name: string,
  shape: Shape,
  size: { w: number; h: number },
  fill: Schemas['Fill'],
  scene = useDocument.getState().scene,
) {
  const current = sceneOf(useDocument.getState().document, scene);
  if (!current) return;
  const at = {
    x: Math.round((current.width - size.w) / 2),
    y: Math.round((current.height - size.h) / 2),
  };
  addPieceAt(name, shape, at, fill, scene);
}

/** Puts a piece on top of a scene; in the open one it is chosen. */
export function addPieceAt(
  name: string,
  shape: Shape,
  at: { x: number; y: number },
  fill = defaults.paper,
  scene = useDocument.getState().scene,
) {
  const current = sceneOf(useDocument.getState().document, scene);
  if (!current) return;
  const id = newId();
  const piece: Piece = {
    id,
    name: freeName(name, current.pieces),
    shape,
    x: at.x,
    y: at.y,
    fill,
    wear: { coats: [] },
  };
  edit((draft) => {
    sceneOf(draft, scene)?.pieces.push(piece);
  });
  if (scene === useDocument.getState().scene) choosePiece(id);
}

export function duplicatePiece(piece: Piece) {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!current) return;
  const id = newId();
  const copy = {
    ...withNewParts(structuredClone(piece)),
    id,
    name: freeName(piece.name, current.pieces),
    x: piece.x + interaction.duplicate_offset,
    y: piece.y + interaction.duplicate_offset,
  };
  edit((draft) => {
    const pieces = sceneOf(draft, scene)?.pieces;
    pieces?.splice(pieces.findIndex((other) => other.id === piece.id) + 1, 0, copy);
  });
  choosePiece(id);
}

/** A piece whose parts, at any depth, have ids of their own: no two pieces of a scene share one. */
export function withNewParts(piece: Piece): Piece {
  if (piece.shape.kind !== 'group') return piece;
  const ids = new Map(piece.shape.parts.map((part) => [part.id, newId()]));
  const renamed = (id: string | null | undefined) => (id ? (ids.get(id) ?? id) : id);
  for (const part of piece.shape.parts) {
    withNewParts(part);
    part.id = ids.get(part.id) ?? part.id;
    part.clip_to = renamed(part.clip_to);
    part.alternative_of = renamed(part.alternative_of);
  }
  return piece;
}

/** Removes pieces; what was clipped to one of them is clipped no more. */
export function removePieces(ids: string[]) {
  if (ids.length === 0) return;
  const { document, scene } = useDocument.getState();
  const at = sceneOf(document, scene)?.pieces.findIndex((piece) => ids.includes(piece.id)) ?? 0;
  keepFocus('[aria-label=Pieces] [aria-pressed]', at, '[aria-label=Pieces] [aria-haspopup]');
  edit((draft) => {
    const current = sceneOf(draft, scene);
    if (!current) return;
    current.pieces = current.pieces.filter((piece) => !ids.includes(piece.id));
    for (const piece of current.pieces) {
      if (piece.clip_to && ids.includes(piece.clip_to)) piece.clip_to = null;
      if (piece.alternative_of && ids.includes(piece.alternative_of)) piece.alternative_of = null;
    }
  });
  choosePiece(null);
}

/** Moves a piece up (1) or down (-1) among the pieces of its scene. */
export function shiftPiece(id: string, by: 1 | -1) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    const pieces = sceneOf(draft, scene)?.pieces;
    const at = pieces?.findIndex((piece) => piece.id === id) ?? -1;
    const piece = pieces?.[at];
    if (!pieces || !piece || at + by < 0 || at + by >= pieces.length) return;
    pieces.splice(at, 1);
    pieces.splice(at + by, 0, piece);
  });
}
