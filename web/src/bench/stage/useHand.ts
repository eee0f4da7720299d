import { type MouseEvent, type PointerEvent, useState } from 'react';
import type { Scene, Schemas } from '../../core/client';
import { drag, follow } from '../../parts/drag';
import { editPieces } from '../../session/pieces';
import { chooseAlso, choosePiece, chosenPieces, pieceOf } from '../../session/store';
import { type Guide, snapped } from './snapping';

type Box = Schemas['PieceBox'];

/**
 * Choosing pieces by a click (with Shift, several), moving them by a drag, moving the view by a drag on the ground.
 * From the keyboard, pieces are chosen on the shelf and moved in their values.
 */
export function useHand(
  scene: Scene | undefined,
  boxes: Box[],
  scale: number,
  onDoubleClick: (piece: string) => void,
) {
  const [guides, setGuides] = useState<Guide[]>([]);
  const under = (event: MouseEvent<HTMLElement>) => {
    if (!scene) return undefined;
    const edge = event.currentTarget.getBoundingClientRect();
    const at = { x: (event.clientX - edge.left) / scale, y: (event.clientY - edge.top) / scale };
    return placed(scene, boxes).findLast((place) => isOn(place, at, scale));
  };
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (!scene || event.button > 1) return;
    const sheet = event.currentTarget;
    const held = event.button === 1 ? undefined : under(event);
    if (!held) return pan(event, sheet);
    if (event.shiftKey) return chooseAlso(held.id);
    if (!chosenPieces().includes(held.id)) choosePiece(held.id);
    moveChosen(event, held, placed(scene, boxes), scene, scale, setGuides);
  };
  const onDouble = (event: MouseEvent<HTMLElement>) => {
    const place = under(event);
    if (place) onDoubleClick(place.id);
  };
  return { guides, hand: { onPointerDown, onDoubleClick: onDouble } };
}

interface Placed {
  id: string;
  x: number;
  y: number;
  w: number;
  h: number;
  outline: Path2D;
  /** From where the outline was taken to where the piece lies now. */
  moved: { x: number; y: number };
}

/** Every piece that is shown, lowest first, where it lies now. */
function placed(scene: Scene, boxes: Box[]): Placed[] {
  return boxes.flatMap((box) => {
    const piece = pieceOf(scene, box.id);
    if (!piece || piece.hidden) return [];
    const { id, w, h } = box;
    const moved = { x: piece.x - box.x, y: piece.y - box.y };
    return [{ id, x: piece.x, y: piece.y, w, h, outline: new Path2D(box.outline), moved }];
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

function moveChosen(
  event: PointerEvent,
  held: Placed,
  places: Placed[],
  scene: Scene,
  scale: number,
  show: (guides: Guide[]) => void,
) {
  const ids = chosenPieces();
  const others = places.filter((other) => !ids.includes(other.id));
  // Hidden pieces move along.
  const starts = new Map(scene.pieces.map(({ id, x, y }) => [id, { x, y }]));
  let dragged = false;
  drag(
    event,
    scale,
    (dx, dy, now) => {
      dragged ||= Math.hypot(dx, dy) * scale > 4;
      if (!dragged) return;
      // With Shift a piece keeps to the line it is dragged along, with Alt it snaps to nothing.
      const [across, down] = !now.shiftKey ? [dx, dy] : Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      const free = { ...held, x: Math.round(held.x + across), y: Math.round(held.y + down) };
      const to = snapped(free, others, scene, now.altKey ? -1 : 5 / scale);
      show(to.guides);
      const by = { x: to.x - held.x, y: to.y - held.y };
      editPieces(
        ids,
        (piece) => {
          const start = starts.get(piece.id);
          piece.x = (start?.x ?? piece.x) + by.x;
          piece.y = (start?.y ?? piece.y) + by.y;
        },
        true,
      );
    },
    () => {
      show([]);
      if (!dragged && ids.length > 1) choosePiece(held.id);
    },
  );
}

/** Dragging the ground moves what is seen of it; a mere click lets go of the piece. */
function pan(event: PointerEvent<HTMLElement>, sheet: HTMLElement) {
  const room = sheet.closest('[data-room]');
  if (event.button === 0 && !event.shiftKey) choosePiece(null);
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
