import { type MouseEvent, type PointerEvent, useRef, useState } from 'react';
import type { Piece, Scene, Schemas } from '../../core/client';
import { askAtOnce } from '../../core/core';
import { sayFailure } from '../../page/toast';
import { drag, follow } from '../../parts/drag';
import { takeOutAt } from '../../session/artwork';
import { chooseAlso, choosePiece, choosePieces, chosenPieces, goInside } from '../../session/choice';
import { editPieces } from '../../session/pieces';
import { useDocument } from '../../session/store';
import { listOf, partsOf, pathTo, withParts } from '../../session/tree';
import { useView } from '../../session/view';
import { along } from './axes';
import { onTheScene } from './place';

type Box = Schemas['PieceBox'];
type Guide = Schemas['Guide'];

/**
 * Choosing pieces by a click (with Shift, several) or by a frame drawn around them, and moving them by a drag. From the
 * keyboard, pieces are chosen on the shelf and moved in their values.
 */
export function useHand(
  scene: Scene | undefined,
  boxes: Box[],
  scale: number,
  onDoubleClick: (piece: string) => void,
) {
  const [guides, setGuides] = useState<Guide[]>([]);
  const [frame, setFrame] = useState<Frame | null>(null);
  const sheet = useRef<HTMLElement>(null);
  const under = (event: MouseEvent<HTMLElement>) => {
    if (!scene) return [];
    const edge = event.currentTarget.getBoundingClientRect();
    const at = { x: (event.clientX - edge.left) / scale, y: (event.clientY - edge.top) / scale };
    return partsAt(scene, boxes, at, scale);
  };
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (!scene || event.button > 1) return;
    sheet.current = event.currentTarget;
    const [held, part] = event.button === 1 ? [] : under(event);
    if (!held && movesView(event)) return pan(event, event.currentTarget);
    if (!held) return chooseWithin(event, scale, placed(scene.pieces, boxes), setFrame);
    if (event.shiftKey || useView.getState().several) return chooseAlso(held.id);
    const again = chosenPieces().includes(held.id);
    if (!again) choosePiece(held.id);
    moveChosen(event, held, {
      beside: placed(listOf(scene, held.id), boxes),
      scene,
      boxes,
      scale,
      show: setGuides,
      // A second click goes in. What is left of a drawing is gone into by the first.
      onClick: () => {
        if (again && part) goInside(part.id);
        else if (again || isRest(scene, held.id)) goIntoDrawing(event, held);
      },
    });
  };
  const goIntoDrawing = ({ clientX, clientY }: PointerEvent, held: Placed) => {
    const own = withParts(scene?.pieces ?? []).find(({ id }) => id === held.id);
    const box = boxes.find(({ id }) => id === held.id);
    if (own?.shape.kind !== 'drawing' || !box) return;
    const edge = sheet.current?.getBoundingClientRect();
    if (!edge) return;
    const at = { x: (clientX - edge.left) / scale, y: (clientY - edge.top) / scale };
    const middle = { x: held.x + held.w / 2, y: held.y + held.h / 2 };
    const [right, down] = along(box.axes, at.x - middle.x, at.y - middle.y);
    takeOutAt(held.id, { x: held.w / 2 + right, y: held.h / 2 + down }).catch((error: Error) =>
      sayFailure(error.message),
    );
  };
  const onDouble = (event: MouseEvent<HTMLElement>) => {
    const [held] = under(event);
    if (held) onDoubleClick(held.id);
  };
  return { guides, frame, hand: { onPointerDown, onDoubleClick: onDouble } };
}

/** Whether a piece is what is left of a drawing that elements were taken out of. */
function isRest(scene: Scene, id: string): boolean {
  const shape = withParts(scene.pieces).find((piece) => piece.id === id)?.shape;
  return shape?.kind === 'drawing' && shape.elements != null;
}

interface Placed {
  id: string;
  x: number;
  y: number;
  w: number;
  h: number;
  outline: Path2D;
  /** Half the width and height of the upright box around it, rotated as it is. */
  reach: [number, number];
  /** From where the outline was taken to where the piece lies now. */
  moved: { x: number; y: number };
}

/**
 * The piece at a point, and the part of it there where it is a group: one of the list that the chosen piece is in, or of the
 * groups around that.
 */
function partsAt(scene: Scene, boxes: Box[], at: { x: number; y: number }, scale: number): Placed[] {
  const highest = (pieces: Piece[]) => placed(pieces, boxes).findLast((place) => isOn(place, at, scale));
  const around = pathTo(scene.pieces, useDocument.getState().piece).slice(0, -1);
  const lists = [scene.pieces, ...around.map(partsOf)].reverse();
  for (const list of lists) {
    const held = highest(list);
    const piece = held && list.find((other) => other.id === held.id);
    const part = piece && highest(partsOf(piece));
    if (held) return part ? [held, part] : [held];
  }
  return [];
}

/** Those of some pieces that are shown, lowest first, where they lie now. */
function placed(pieces: Piece[], boxes: Box[]): Placed[] {
  return pieces.flatMap((own) => {
    const box = boxes.find((other) => other.id === own.id);
    if (!box || own.hidden) return [];
    const piece = onTheScene(own, box, box.list);
    const { id, w, h } = box;
    const [right, down] = box.axes as [number[], number[]];
    const half = (axis: 0 | 1) => (Math.abs(right[axis] ?? 0) * w + Math.abs(down[axis] ?? 0) * h) / 2;
    const moved = { x: piece.x - box.x, y: piece.y - box.y };
    return [
      {
        id,
        x: piece.x,
        y: piece.y,
        w,
        h,
        reach: [half(0), half(1)],
        outline: new Path2D(box.outline),
        moved,
      },
    ];
  });
}

/** How far beside a silhouette it is still taken hold of, in px of the screen. */
const SLACK = 4;

const pencil = document.createElement('canvas').getContext('2d');

function isOn({ outline, moved }: Placed, at: { x: number; y: number }, scale: number): boolean {
  const [x, y] = [at.x - moved.x, at.y - moved.y];
  if (!pencil) return false;
  pencil.lineWidth = (2 * SLACK) / scale;
  return pencil.isPointInPath(outline, x, y) || pencil.isPointInStroke(outline, x, y);
}

interface Moved {
  /** The pieces of its list. */
  beside: Placed[];
  scene: Scene;
  boxes: Box[];
  scale: number;
  show: (guides: Guide[]) => void;
  /** What a press without a move does. */
  onClick: () => void;
}

function moveChosen(
  event: PointerEvent,
  held: Placed,
  { beside, scene, boxes, scale, show, onClick }: Moved,
) {
  const ids = chosenPieces();
  const others = beside.filter((other) => !ids.includes(other.id)).map(boxOf);
  // Hidden pieces move along.
  const starts = new Map(withParts(scene.pieces).map(({ id, x, y }) => [id, { x, y }]));
  const axes = new Map(boxes.map(({ id, list }) => [id, list.axes]));
  let dragged = false;
  drag(
    event,
    scale,
    (dx, dy, now, ask) => {
      dragged ||= Math.hypot(dx, dy) * scale > 4;
      if (!dragged) return;
      // With Shift a piece keeps to the line it is dragged along, with Alt it snaps to nothing.
      const [across, down] = !now.shiftKey ? [dx, dy] : Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      const free = { ...boxOf(held), x: Math.round(held.x + across), y: Math.round(held.y + down) };
      const { width, height } = scene;
      const question = { dragged: free, others, scene: { width, height }, scale, fine: now.altKey };
      ask(askAtOnce('/api/drag/box', question), (to) => {
        show(to.guides);
        const by = { x: to.x - held.x, y: to.y - held.y };
        editPieces(
          ids,
          (piece) => {
            const start = starts.get(piece.id);
            const [right, down] = along(axes.get(piece.id) ?? upright, by.x, by.y);
            piece.x = (start?.x ?? piece.x) + right;
            piece.y = (start?.y ?? piece.y) + down;
          },
          true,
        );
      });
    },
    () => {
      show([]);
      if (dragged) return;
      if (ids.length > 1) choosePiece(held.id);
      else onClick();
    },
  );
}

const upright = [
  [1, 0],
  [0, 1],
];

function boxOf({ x, y, w, h }: Placed) {
  return { x, y, w, h };
}

/** A frame drawn on the stage, in px of the scene. */
export interface Frame {
  x: number;
  y: number;
  w: number;
  h: number;
}

/**
 * Draws a frame from the ground: what it touches is chosen, with Shift besides what was chosen before. A mere click lets
 * go of the piece.
 */
function chooseWithin(
  event: PointerEvent<HTMLElement>,
  scale: number,
  places: Placed[],
  show: (frame: Frame | null) => void,
) {
  const edge = event.currentTarget.getBoundingClientRect();
  const at = ({ clientX, clientY }: { clientX: number; clientY: number }) => ({
    x: (clientX - edge.left) / scale,
    y: (clientY - edge.top) / scale,
  });
  const from = at(event);
  const before = event.shiftKey ? chosenPieces() : [];
  if (!event.shiftKey) choosePiece(null);
  follow(event, {
    move: (now) => {
      const to = at(now);
      const [w, h] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)];
      if (Math.max(w, h) * scale < 4) return;
      const frame = { x: Math.min(from.x, to.x), y: Math.min(from.y, to.y), w, h };
      show(frame);
      const touched = places.filter((place) => touches(place, frame)).map((place) => place.id);
      choosePieces([...new Set([...before, ...touched])]);
    },
    end: () => show(null),
  });
}

function touches({ x, y, w, h, reach }: Placed, frame: Frame): boolean {
  const away = (middle: number, from: number, length: number) =>
    Math.abs(middle - from - length / 2) - length / 2;
  return away(x + w / 2, frame.x, frame.w) <= reach[0] && away(y + h / 2, frame.y, frame.h) <= reach[1];
}

let space = false;
/** What has no use of its own for Space: after a drag the stage has the focus. */
const isSpace = ({ code, target }: KeyboardEvent) =>
  code === 'Space' &&
  target instanceof Element &&
  !target.closest('button, a, input, textarea, select, [role=slider], [contenteditable]');

window.addEventListener('keydown', (event) => {
  if (!isSpace(event)) return;
  space = true;
  // The page would scroll.
  event.preventDefault();
});
window.addEventListener('blur', () => {
  space = false;
});
window.addEventListener('keyup', (event) => {
  if (event.code === 'Space') space = false;
});

/** A finger, the middle button, and Space held move the view. */
function movesView({ button, pointerType }: PointerEvent): boolean {
  return button === 1 || pointerType === 'touch' || space;
}

/** Moves what is seen of the scene; a mere touch of the ground lets go of the piece. */
function pan(event: PointerEvent<HTMLElement>, sheet: HTMLElement) {
  const room = sheet.closest('[data-room]');
  if (event.pointerType === 'touch' && !event.shiftKey) choosePiece(null);
  if (!room) return;
  const { scrollLeft, scrollTop } = room;
  const { clientX, clientY } = event;
  event.preventDefault();
  follow(event, {
    move: (now) => {
      room.scrollLeft = scrollLeft - (now.clientX - clientX);
      room.scrollTop = scrollTop - (now.clientY - clientY);
    },
    end: () => undefined,
  });
}
