import type { Piece, Scene } from '../core/client';
import { arrange } from './arrange';
import { chosenPieces } from './choice';
import { groupOf, listOf, partsOf } from './tree';

/** A place among pieces: beside one of them, or in it where it is a group. */
export type Zone = 'before' | 'into' | 'after';

/** Moves a piece, and those chosen with it, to a place; it lies on the scene where it did. */
export function moveTo(scene: Scene, id: string, zone: Zone, target: string): Promise<void> {
  const ids = chosenPieces().includes(id) ? chosenPieces() : [id];
  if (ids.includes(target)) return Promise.resolve();
  if (zone === 'into') return arrange({ kind: 'move', into: target, before: null }, ids);
  const list = listOf(scene, target).filter((piece) => piece.id === target || !ids.includes(piece.id));
  const at = list.findIndex((piece) => piece.id === target);
  const before = zone === 'before' ? target : (list[at + 1]?.id ?? null);
  return arrange({ kind: 'move', into: groupOf(scene, target)?.id ?? null, before }, ids);
}

/** The place that an arrow key moves a piece to: past a neighbour, into the group before it, or out of its own. */
export function placeByKey(scene: Scene, piece: Piece, key: string): { zone: Zone; target: string } | null {
  const list = listOf(scene, piece.id);
  const at = list.indexOf(piece);
  const [previous, next, group] = [list[at - 1], list[at + 1], groupOf(scene, piece.id)];
  const beside = (zone: Zone, of: Piece | undefined) => (of ? { zone, target: of.id } : null);
  if (key === 'ArrowUp') return beside('before', previous) ?? beside('before', group);
  if (key === 'ArrowDown') return beside('after', next) ?? beside('after', group);
  if (key === 'ArrowLeft') return beside('after', group);
  if (key !== 'ArrowRight') return null;
  return previous && partsOf(previous).length > 0 ? beside('into', previous) : null;
}
