import type { Coat, Piece, Schemas } from '../api/client';
import { copyOf } from './copy';
import { layerOf } from './layers';
import { editPieces } from './pieces';
import { chosenPieces, coatsOf, edit, newId, pieceOf, sceneOf, useDocument } from './store';

/** Sizes of pieces by their ids, as the core said them. */
export type Sizes = Map<string, { w: number; h: number }>;

export type Line = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom';

const shares: Record<Line, ['x' | 'y', number]> = {
  left: ['x', 0],
  centre: ['x', 0.5],
  right: ['x', 1],
  top: ['y', 0],
  middle: ['y', 0.5],
  bottom: ['y', 1],
};

/** Moves the chosen pieces so that they share an edge or middle of the box around them; one alone goes by the scene. */
export function align(line: Line, sizes: Sizes) {
  const [axis, share] = shares[line];
  const spans = spansOf(axis, sizes);
  const { document, scene } = useDocument.getState();
  const whole = sceneOf(document, scene);
  if (spans.length === 0 || !whole) return;
  const alone = spans.length === 1;
  const low = alone ? 0 : Math.min(...spans.map((span) => span.at));
  const high = alone
    ? whole[axis === 'x' ? 'width' : 'height']
    : Math.max(...spans.map((span) => span.at + span.length));
  place(
    axis,
    spans.map((span) => ({ ...span, at: low + (high - low - span.length) * share })),
  );
}

/** Moves the chosen pieces between the outermost two so that the distances between them are equal. */
export function distribute(axis: 'x' | 'y', sizes: Sizes) {
  const spans = spansOf(axis, sizes).sort((a, b) => a.at - b.at);
  const [first, last] = [spans[0], spans.at(-1)];
  if (!first || !last || spans.length < 3) return;
  const taken = spans.reduce((sum, span) => sum + span.length, 0);
  const gap = (last.at + last.length - first.at - taken) / (spans.length - 1);
  let at = first.at;
  place(
    axis,
    spans.map((span) => {
      const placed = { ...span, at };
      at += span.length + gap;
      return placed;
    }),
  );
}

interface Span {
  id: string;
  at: number;
  length: number;
}

function spansOf(axis: 'x' | 'y', sizes: Sizes): Span[] {
  const { document, scene } = useDocument.getState();
  return chosenPieces().flatMap((id) => {
    const [piece, size] = [pieceOf(sceneOf(document, scene), id), sizes.get(id)];
    return piece && size ? [{ id, at: piece[axis], length: axis === 'x' ? size.w : size.h }] : [];
  });
}

function place(axis: 'x' | 'y', spans: Span[]) {
  editPieces(
    spans.map((span) => span.id),
    (piece) => {
      const span = spans.find((other) => other.id === piece.id);
      if (span) piece[axis] = Math.round(span.at * 100) / 100;
    },
  );
}

/** Puts a join of the chosen pieces in their place: one silhouette, each part with its own fill and inner light. */
export function join(op: Schemas['JoinOp']) {
  const { document, scene } = useDocument.getState();
  const ids = chosenPieces();
  const main = pieceOf(sceneOf(document, scene), ids[0] ?? null);
  if (!document || !main || ids.length < 2) return;
  const id = newId();
  edit((draft) => {
    const current = sceneOf(draft, scene);
    if (!current) return;
    const parts = current.pieces.filter((piece) => ids.includes(piece.id));
    const [x, y] = [Math.min(...parts.map((part) => part.x)), Math.min(...parts.map((part) => part.y))];
    const stack = (piece: Piece): Coat[] => copyOf(coatsOf(draft, piece));
    const joined: Piece = {
      id,
      name: `${main.name} joined`,
      shape: {
        kind: 'join',
        op,
        parts: parts.map((part) => ({
          ...part,
          x: part.x - x,
          y: part.y - y,
          clip_to: null,
          alternative_of: null,
          wear: { coats: stack(part).filter((coat) => layerOf(coat) === 'on') },
        })),
      },
      x,
      y,
      fill: { kind: 'none' },
      wear: { coats: stack(main).filter((coat) => layerOf(coat) !== 'on') },
    };
    const top = current.pieces.findLastIndex((piece) => ids.includes(piece.id));
    current.pieces.splice(top + 1, 0, joined);
    current.pieces = current.pieces.filter((piece) => !ids.includes(piece.id));
    for (const piece of current.pieces) {
      if (piece.clip_to && ids.includes(piece.clip_to)) piece.clip_to = id;
      if (piece.alternative_of && ids.includes(piece.alternative_of)) piece.alternative_of = null;
    }
  });
  useDocument.setState({ piece: id, also: [], coat: null, ticked: [] });
}

/** Puts the parts of a join in its place. What was cast from it as one stays with the lowest part. */
export function takeApart(id: string) {
  const { document, scene } = useDocument.getState();
  const whole = pieceOf(sceneOf(document, scene), id);
  if (!document || whole?.shape.kind !== 'join') return;
  const cast = coatsOf(document, whole).filter((coat) => layerOf(coat) !== 'on');
  const taken = new Set(sceneOf(document, scene)?.pieces.map((piece) => piece.id));
  const parts = whole.shape.parts.map((part, i): Piece => {
    const own = coatsOf(document, part);
    return {
      ...structuredClone(part),
      id: taken.has(part.id) ? newId() : part.id,
      x: part.x + whole.x,
      y: part.y + whole.y,
      wear: { coats: structuredClone(i === 0 ? [...own, ...cast] : own) },
    };
  });
  edit((draft) => {
    const pieces = sceneOf(draft, scene)?.pieces;
    pieces?.splice(
      pieces.findIndex((piece) => piece.id === id),
      1,
      ...parts,
    );
    for (const piece of pieces ?? []) {
      if (piece.clip_to === id) piece.clip_to = null;
      if (piece.alternative_of === id) piece.alternative_of = null;
    }
  });
  const [first, ...others] = parts.map((part) => part.id);
  useDocument.setState({ piece: first ?? null, also: others, coat: null, ticked: [] });
}
