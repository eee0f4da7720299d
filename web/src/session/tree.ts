import type { Piece, Scene } from '../core/client';

/** Pieces of a list with those in its groups, a group before its parts. */
export function withParts(pieces: Piece[]): Piece[] {
  return pieces.flatMap((piece) => [piece, ...withParts(partsOf(piece))]);
}

/** The parts of a group; none of any other piece. */
export function partsOf({ shape }: Piece): Piece[] {
  return shape.kind === 'group' ? shape.parts : [];
}

/** The groups around a piece, outermost first, then the piece; empty where it is not there. */
export function pathTo(pieces: Piece[], id: string | null): Piece[] {
  for (const piece of pieces) {
    if (piece.id === id) return [piece];
    const inside = pathTo(partsOf(piece), id);
    if (inside.length > 0) return [piece, ...inside];
  }
  return [];
}

/** The group that a piece is in. */
export function groupOf(scene: Scene | undefined, id: string | null): Piece | undefined {
  return pathTo(scene?.pieces ?? [], id).at(-2);
}

/** The list that a piece is in: the scene's, or that of its group. */
export function listOf(scene: Scene | undefined, id: string | null): Piece[] {
  const group = groupOf(scene, id);
  return group ? partsOf(group) : (scene?.pieces ?? none);
}

const none: Piece[] = [];

/** A list without some of its pieces, at any depth; a group that would be left without parts goes too. */
export function without(pieces: Piece[], ids: string[]): Piece[] {
  const left = pieces.filter((piece) => !ids.includes(piece.id));
  return left.filter((piece) => {
    if (piece.shape.kind !== 'group') return true;
    piece.shape.parts = without(piece.shape.parts, ids);
    return piece.shape.parts.length > 0;
  });
}
