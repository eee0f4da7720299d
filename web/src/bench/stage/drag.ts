import type { PointerEvent as ReactPointerEvent } from 'react';
import { rest } from '../../session/store';

/** How far the pointer was moved from where the drag began, in the scene's px. */
export type Moving = (dx: number, dy: number, event: PointerEvent) => void;

/** Follows the pointer from a press to its release; all of it is one step to undo. */
export function drag(event: ReactPointerEvent, scale: number, moving: Moving, done?: () => void) {
  if (event.button !== 0) return;
  event.preventDefault();
  event.stopPropagation();
  const { clientX, clientY, pointerId } = event;
  const target = event.currentTarget;
  target.setPointerCapture(pointerId);
  let last: PointerEvent | null = null;
  let frame = 0;
  // No more than one change a frame, whatever the pointer's rate.
  const step = () => {
    frame = 0;
    if (last) moving((last.clientX - clientX) / scale, (last.clientY - clientY) / scale, last);
  };
  const move = (next: Event) => {
    last = next as PointerEvent;
    if (frame === 0) frame = requestAnimationFrame(step);
  };
  const stop = () => {
    cancelAnimationFrame(frame);
    step();
    target.removeEventListener('pointermove', move);
    target.removeEventListener('pointerup', stop);
    target.removeEventListener('pointercancel', stop);
    rest();
    done?.();
  };
  target.addEventListener('pointermove', move);
  target.addEventListener('pointerup', stop);
  target.addEventListener('pointercancel', stop);
}

/** To whole px; with Alt to tenths. */
export function rounded(value: number, event: { altKey: boolean }): number {
  return event.altKey ? Math.round(value * 10) / 10 : Math.round(value);
}
