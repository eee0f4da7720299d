import type { Project } from '../core/client';
import { type Deed, deedOf } from './naming';

/** Where in a project something was done. */
export interface Place {
  scene: string | null;
  piece: string | null;
}

/** One step that can be undone. */
export interface Step extends Deed {
  before: Project;
  after: Project;
  place: Place;
}

/** What was done, and what was undone of it; the nearest step is the last of each list. */
export interface History {
  past: Step[];
  future: Step[];
}

/** How many steps can be undone. */
const LIMIT = 200;

export const noHistory: History = { past: [], future: [] };

export function stepBetween(before: Project, after: Project, place: Place): Step {
  return { ...deedOf(before, after), before, after, place };
}

/** With one more step done; what was undone before it is gone. */
export function withStep({ past }: History, step: Step): History {
  return { past: [...past, step].slice(-LIMIT), future: [] };
}

/** With so many steps undone, and the last of them. */
export function undone({ past, future }: History, steps: number): [History, Step | undefined] {
  const taken = past.slice(-steps);
  return [
    { past: past.slice(0, past.length - taken.length), future: [...future, ...taken.toReversed()] },
    taken[0],
  ];
}

/** With so many steps done again, and the last of them. */
export function redone({ past, future }: History, steps: number): [History, Step | undefined] {
  const taken = future.slice(-steps).toReversed();
  return [{ past: [...past, ...taken], future: future.slice(0, future.length - taken.length) }, taken.at(-1)];
}
