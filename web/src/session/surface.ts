import type { Schemas } from '../core/client';
import { editPiece } from './pieces';

/** The surface of an element that was found on a picture. */
export interface FoundSurface {
  fill: string;
  radius: number;
  place: Schemas['FoundPlace'];
}

/** Gives a piece the fill of a surface, and a box its size and corners as well. */
export function takeSurface(piece: string, { fill, radius, place: { w, h } }: FoundSurface) {
  editPiece(piece, (mine) => {
    mine.fill = { kind: 'solid', colour: fill };
    if (mine.shape.kind === 'box') mine.shape = { ...mine.shape, w, h, radii: radius };
  });
}
