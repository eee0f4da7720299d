import { type PointerEvent, useState } from 'react';
import type { Scene, Schemas } from '../../core/client';
import { editPieces } from '../../session/pieces';
import { chooseAlso, choosePiece, chosenPieces, pieceOf } from '../../session/store';
import { drag } from './drag';
import { type Guide, snapped } from './snapping';

type Box = Schemas['PieceBox'];

/**
 * Choosing pieces by a click (with Shift, several), moving them by a drag, moving the view by a drag on the ground.
 * From the keyboard, pieces are chosen on the shelf and moved in their values.
 */
export function useHand(scene: Scene | undefined, boxes: Box[], scale: number, onDoubleClick: () => void) {
  const [guides, setGuides] = useState<Guide[]>([]);
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (!scene || event.button > 1) return;
    const sheet = event.currentTarget;
    const edge = sheet.getBoundingClientRect();
    const x = (event.clientX - edge.left) / scale;
    const y = (event.clientY - edge.top) / scale;
    const places = placed(scene, boxes);
    const under =
      event.button === 1
        ? undefined
        : places.filter((b) => b.x <= x && x < b.x + b.w && b.y <= y && y < b.y + b.h).at(-1);
    if (!under) return pan(event, sheet);
    if (event.shiftKey) return chooseAlso(under.id);
    if (!chosenPieces().includes(under.id)) choosePiece(under.id);
    moveChosen(event, under, places, scene, scale, setGuides);
  };
  return { guides, hand: { onPointerDown, onDoubleClick } };
}

/** Every piece that is shown, lowest first, where it lies now. */
function placed(scene: Scene, boxes: Box[]) {
  return boxes.flatMap((box) => {
    const piece = pieceOf(scene, box.id);
    return piece && !piece.hidden ? [{ id: box.id, x: piece.x, y: piece.y, w: box.w, h: box.h }] : [];
  });
}

function moveChosen(
  event: PointerEvent,
  held: ReturnType<typeof placed>[number],
  places: ReturnType<typeof placed>,
  scene: Scene,
  scale: number,
  show: (guides: Guide[]) => void,
) {
  const ids = chosenPieces();
  const others = places.filter((other) => !ids.includes(other.id));
  const starts = new Map(places.map((place) => [place.id, place]));
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
  sheet.setPointerCapture(event.pointerId);
  const move = (now: globalThis.PointerEvent) => {
    room.scrollLeft = scrollLeft - (now.clientX - clientX);
    room.scrollTop = scrollTop - (now.clientY - clientY);
  };
  const stop = () => {
    sheet.removeEventListener('pointermove', move);
    sheet.removeEventListener('pointerup', stop);
    sheet.removeEventListener('pointercancel', stop);
  };
  sheet.addEventListener('pointermove', move);
  sheet.addEventListener('pointerup', stop);
  sheet.addEventListener('pointercancel', stop);
}
