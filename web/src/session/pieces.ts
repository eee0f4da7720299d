import type { Piece, Scene, Schemas } from '../core/client';
import { defaults, interaction } from '../core/constants';
import { words } from '../messages';
import { keepFocus } from '../page/keepFocus';
import { say } from '../page/toast';
import { choosePiece } from './choice';
import { pieceOf, sceneOf } from './lookup';
import { freeName } from './names';
import { newId } from './newId';
import { edit, useDocument } from './store';
import { groupOf, listOf, partsOf, pathTo, without, withParts } from './tree';

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
    for (const piece of withParts(sceneOf(draft, scene)?.pieces ?? [])) {
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

/** Puts a piece on top of a scene, or of the group that is gone into; in the open scene it is chosen. */
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
  const open = useDocument.getState();
  const inside = scene === open.scene ? placeInside(current, open.piece) : null;
  const piece: Piece = {
    id,
    name: freeName(name, withParts(current.pieces)),
    shape,
    x: at.x - (inside?.x ?? 0),
    y: at.y - (inside?.y ?? 0),
    fill,
    wear: { coats: [] },
  };
  edit((draft) => {
    const whole = sceneOf(draft, scene);
    const group = pieceOf(whole, inside?.group ?? null);
    (group ? partsOf(group) : whole?.pieces)?.push(piece);
  });
  if (scene === useDocument.getState().scene) choosePiece(id);
}

/** The group that is gone into, and where it lies on the scene; null where there is none, or it is rotated. */
function placeInside(scene: Scene, chosen: string | null) {
  const groups = pathTo(scene.pieces, chosen).slice(0, -1);
  const group = groups.at(-1);
  if (!group || groups.some(({ rotation }) => rotation)) return null;
  const sum = (axis: 'x' | 'y') => groups.reduce((all, other) => all + other[axis], 0);
  return { group: group.id, x: sum('x'), y: sum('y') };
}

export function duplicatePiece(piece: Piece) {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!current) return;
  const id = newId();
  const copy = {
    ...withNewParts(structuredClone(piece)),
    id,
    name: freeName(piece.name, withParts(current.pieces)),
    x: piece.x + interaction.duplicate_offset,
    y: piece.y + interaction.duplicate_offset,
  };
  edit((draft) => {
    const pieces = listOf(sceneOf(draft, scene), piece.id);
    pieces.splice(pieces.findIndex((other) => other.id === piece.id) + 1, 0, copy);
  });
  choosePiece(id);
}

/** Puts a copy of a piece, with its parts, on top of another scene, where it lies on this one. */
export function copyToScene(piece: Piece, to: string) {
  const { document, scene } = useDocument.getState();
  const [here, there] = [sceneOf(document, scene), sceneOf(document, to)];
  if (!here || !there) return;
  const groups = pathTo(here.pieces, piece.id).slice(0, -1);
  const on = (axis: 'x' | 'y') => groups.reduce((sum, group) => sum + group[axis], piece[axis]);
  const copy = {
    ...withNewParts(structuredClone(piece)),
    id: newId(),
    name: freeName(piece.name, withParts(there.pieces)),
    x: on('x'),
    y: on('y'),
    clip_to: null,
    alternative_of: null,
  };
  edit((draft) => {
    sceneOf(draft, to)?.pieces.push(copy);
  });
  say(words.session.copiedTo(piece.name, there.name));
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
  const group = groupOf(sceneOf(document, scene), ids[0] ?? null);
  keepFocus('[aria-label=Pieces] [aria-pressed]', at, '[aria-label=Pieces] [aria-haspopup]');
  edit((draft) => {
    const current = sceneOf(draft, scene);
    if (!current) return;
    current.pieces = without(current.pieces, ids);
    for (const piece of withParts(current.pieces)) {
      if (piece.clip_to && ids.includes(piece.clip_to)) piece.clip_to = null;
      if (piece.alternative_of && ids.includes(piece.alternative_of)) piece.alternative_of = null;
    }
  });
  const left = pieceOf(sceneOf(useDocument.getState().document, scene), group?.id ?? null);
  choosePiece(left?.id ?? null);
}

/** Moves a piece up (1) or down (-1) among the pieces of its scene. */
export function shiftPiece(id: string, by: 1 | -1) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    const pieces = listOf(sceneOf(draft, scene), id);
    const at = pieces.findIndex((piece) => piece.id === id);
    const piece = pieces[at];
    if (!piece || at + by < 0 || at + by >= pieces.length) return;
    pieces.splice(at, 1);
    pieces.splice(at + by, 0, piece);
  });
}
