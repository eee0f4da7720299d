import type { PointerEvent as ReactPointerEvent } from 'react';
import { begin, cancel, commit } from '../session/store';

/** Makes a change once the core has answered; until then no other move is made. */
export type Ask = <Answer>(answer: Promise<Answer>, change: (answer: Answer) => void) => void;

/** How far the pointer was moved from where the drag began, in the scene's px. */
export type Moving = (dx: number, dy: number, event: PointerEvent, ask: Ask) => void;

/**
 * Follows the pointer from a press to its release; all of it is one step to undo. Escape, or a touch that turns into
 * something else, gives it up.
 */
export function drag(event: ReactPointerEvent, scale: number, moving: Moving, done?: () => void) {
  if (event.button !== 0) return;
  event.preventDefault();
  event.stopPropagation();
  const { clientX, clientY } = event;
  const goesOn = begin();
  let last: PointerEvent | null = null;
  let frame = 0;
  let asked: Promise<void> | null = null;
  const ask: Ask = (answer, change) => {
    asked = answer
      .then((found) => goesOn() && change(found))
      // Without an answer it stays where it is until the next move.
      .catch(() => undefined)
      .then(() => {
        asked = null;
        goOn();
      });
  };
  const step = () => {
    const now = last;
    last = null;
    if (now && goesOn()) moving((now.clientX - clientX) / scale, (now.clientY - clientY) / scale, now, ask);
  };
  const goOn = () => {
    if (last && frame === 0 && !asked) atMostEachFrame();
  };
  // The first move of a frame at once, and no more than one change a frame, whatever the pointer's rate.
  const atMostEachFrame = () => {
    step();
    frame = requestAnimationFrame(() => {
      frame = 0;
      goOn();
    });
  };
  follow(event, {
    move: (next) => {
      last = next;
      goOn();
    },
    end: async (released) => {
      cancelAnimationFrame(frame);
      // No frame follows any more.
      frame = -1;
      await asked;
      if (released) step();
      await asked;
      if (released) commit();
      else if (goesOn()) cancel();
      done?.();
    },
  });
}

interface Following {
  move: (event: PointerEvent) => void;
  /** Told whether the pointer was released, or what it did is given up. */
  end: (released: boolean) => void;
}

/**
 * Hears of a pointer from a press to its release. It listens to the window: what was pressed may be taken away in the
 * meantime, and its capture with it.
 */
export function follow(press: ReactPointerEvent, { move, end }: Following) {
  const { pointerId, currentTarget } = press;
  currentTarget.setPointerCapture(pointerId);
  const mine = (hear: (event: PointerEvent) => void) => (event: Event) => {
    if ((event as PointerEvent).pointerId === pointerId) hear(event as PointerEvent);
  };
  const stop = (released: boolean) => {
    for (const [name, listener] of listeners) window.removeEventListener(name, listener, true);
    end(released);
  };
  const listeners: [string, (event: Event) => void][] = [
    ['pointermove', mine(move)],
    ['pointerup', mine(() => stop(true))],
    ['pointercancel', mine(() => stop(false))],
    // A second finger makes something else of it.
    ['pointerdown', (event) => (event as PointerEvent).pointerId !== pointerId && stop(false)],
    // A window that loses the pointer for good does not say so otherwise.
    ['blur', (event) => event.target === window && stop(true)],
    [
      'keydown',
      (event) => {
        if ((event as KeyboardEvent).key !== 'Escape') return;
        event.preventDefault();
        event.stopPropagation();
        stop(false);
      },
    ],
  ];
  for (const [name, listener] of listeners) window.addEventListener(name, listener, true);
}

/** To whole px; with Alt to tenths. */
export function rounded(value: number, event: { altKey: boolean }): number {
  return event.altKey ? Math.round(value * 10) / 10 : Math.round(value);
}
