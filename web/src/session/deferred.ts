import { flushSync } from 'react-dom';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { stageDrawing } from '../core/core';

/** Ms that the page waits for the stage at most. */
const MOST_DELAY = 50;

/** For these the page has to be up to date: whoever hears of them may use what was last rendered. */
const HEARD = ['pointerdown', 'pointerup', 'pointercancel', 'keydown', 'blur'] as const;

/** A hand takes hold of something; other buttons open menus, and their release is not always told. */
function isPress(event: Event): boolean {
  return event instanceof PointerEvent && event.type === 'pointerdown' && event.button === 0;
}

/** Settled once the stage shows the newest. */
async function drawn() {
  for (let now = stageDrawing(); now; now = stageDrawing()) await now;
}

/**
 * A store that the page shows once the stage does, while a pointer is pressed and `follows` holds: rendering the page at the same
 * time would take a core from what draws the stage. Whoever subscribes or reads it without rendering has the newest at once.
 */
export function createDeferred<T extends object>(initial: T, follows: (now: T) => boolean) {
  const newest = createStore<T>()(() => initial);
  const shown = createStore<T>()(() => initial);
  let isPressed = false;
  let timer = 0;

  const catchUp = () => {
    window.clearTimeout(timer);
    timer = 0;
    if (shown.getState() !== newest.getState()) shown.setState(newest.getState(), true);
  };
  const setState = (next: Partial<T> | ((now: T) => Partial<T>)) => {
    newest.setState(next);
    if (!isPressed || !follows(newest.getState()) || !stageDrawing()) return catchUp();
    if (timer !== 0) return;
    timer = window.setTimeout(catchUp, MOST_DELAY);
    void drawn().then(catchUp);
  };
  const hear = (event: PointerEvent | KeyboardEvent | FocusEvent) => {
    if (event.type === 'blur' && event.target !== window) return;
    if (event instanceof PointerEvent || event.type === 'blur') isPressed = isPress(event);
    if (shown.getState() !== newest.getState()) flushSync(catchUp);
  };
  for (const type of HEARD) window.addEventListener(type, hear, true);

  const useDeferred = <S>(selector: (now: T) => S): S => useStore(shown, selector);
  return Object.assign(useDeferred, {
    getState: newest.getState,
    subscribe: newest.subscribe,
    setState,
  });
}
