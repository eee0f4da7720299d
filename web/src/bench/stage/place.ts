import type { Piece, Schemas } from '../../core/client';
import { along, onScene } from './axes';

type List = Schemas['PieceList'];
interface Size {
  w: number;
  h: number;
}
interface Point {
  x: number;
  y: number;
}

/** A piece as if it lay on the scene itself: where its box is now, and how it is rotated there. */
export function onTheScene(piece: Piece, size: Size, list: List): Piece {
  if (isTheScene(list)) return piece;
  const [right, down] = onScene(list.axes, piece.x + size.w / 2, piece.y + size.h / 2);
  const [x = 0, y = 0] = list.origin;
  const rotation = (piece.rotation ?? 0) + list.rotation;
  return { ...piece, x: x + right - size.w / 2, y: y + down - size.h / 2, rotation };
}

/** The place in its list of a piece whose box is to be there on the scene. */
export function inItsList(at: Point, size: Size, list: List): Point {
  if (isTheScene(list)) return at;
  const [x = 0, y = 0] = list.origin;
  const [right, down] = along(list.axes, at.x + size.w / 2 - x, at.y + size.h / 2 - y);
  return { x: right - size.w / 2, y: down - size.h / 2 };
}

function isTheScene({ origin: [x, y], rotation }: List): boolean {
  return x === 0 && y === 0 && rotation === 0;
}
