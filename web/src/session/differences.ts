import type { Project } from '../core/client';
import { words } from '../messages';

interface Named {
  id: string;
  name: string;
}

/** One thing that is not alike in two versions of a project. */
export interface Difference {
  says: string;
  /** The finish it is about, where it is about one that both have. */
  finish?: string;
}

/** What differs between an earlier version and a later one, by the things a project holds. */
export function differencesOf(before: Project, after: Project): Difference[] {
  const { session } = words;
  const rest = (project: Project) => ({
    ...project,
    scenes: [],
    finishes: [],
    lights: [],
    swatches: [],
    themes: [],
  });
  const found = [
    ...between(before.finishes ?? [], after.finishes ?? [], 'finish'),
    ...between(before.scenes, after.scenes, 'scene'),
    ...between(before.lights ?? [], after.lights ?? [], 'light'),
    ...between(before.swatches ?? [], after.swatches ?? [], 'swatch'),
    ...between(before.themes, after.themes, 'theme'),
  ];
  const other = JSON.stringify(rest(before)) !== JSON.stringify(rest(after));
  return other ? [...found, { says: session.otherThings }] : found;
}

function between(
  before: Named[],
  after: Named[],
  thing: 'finish' | 'scene' | 'light' | 'swatch' | 'theme',
): Difference[] {
  const { session } = words;
  const now = new Map(after.map((one) => [one.id, one]));
  const old = new Set(before.map((one) => one.id));
  const found: Difference[] = [];
  for (const was of before) {
    const is = now.get(was.id);
    const finish = thing === 'finish' ? was.id : undefined;
    if (!is) found.push({ says: session.goneSince(thing, was.name), finish });
    else if (JSON.stringify(was) !== JSON.stringify(is))
      found.push({ says: session.changedSince(thing, is.name), finish });
  }
  for (const is of after) if (!old.has(is.id)) found.push({ says: session.newSince(thing, is.name) });
  return found;
}
