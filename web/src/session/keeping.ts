import { createStore, del, get, set } from 'idb-keyval';
import type { Project } from '../core/client';

/** Work that is not saved yet, as it lies in this browser. */
export interface Kept {
  /** The revision it was made from. */
  revision: number;
  document: Project;
}

const store = createStore('zolvet', 'unsaved');

const PAUSE = 150;

let latest: { id: string; kept: Kept | null } | null = null;
let busy = false;

/** Keeps work in this browser until it is saved; null forgets it. The newest wins. */
export function keep(id: string, kept: Kept | null) {
  latest = { id, kept };
  void pump();
}

/** What was kept of a project and never saved. */
export async function keptOf(id: string): Promise<Kept | null> {
  try {
    return (await get<Kept>(id, store)) ?? null;
  } catch {
    // A browser without storage keeps nothing; the service does.
    return null;
  }
}

async function pump() {
  if (busy) return;
  busy = true;
  while (latest) {
    // A drag is kept as it goes on, but not at every step.
    await new Promise((resolve) => window.setTimeout(resolve, PAUSE));
    const { id, kept } = latest;
    latest = null;
    try {
      await (kept ? set(id, kept, store) : del(id, store));
    } catch {
      // As above.
    }
  }
  busy = false;
}
