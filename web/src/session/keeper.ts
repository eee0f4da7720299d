import { createStore, del, entries, set, type UseStore } from 'idb-keyval';
import type { Project } from '../core/client';
import { schema } from '../core/constants';
import { remember } from '../core/storage';
import { textOf } from '../core/text';
import { newId } from './newId';

/** Work that is not saved yet, as it lies in this browser. */
export interface Kept {
  project: string;
  /** The session it was done in: a tab has its own, so that two of them never overwrite one another. */
  session: string;
  /** When it was kept, in ms since 1970. */
  at: number;
  /** The revision it was made from. */
  revision: number;
  document: Project;
  /** What was sent on the way there without an answer. */
  unanswered: Project[];
}

let opened: UseStore | null = null;
/** Opened when it is first needed: a browser may refuse, which is said where something is kept. */
const store: UseStore = async (mode, work) => {
  opened ??= createStore('zolvet', 'unsaved');
  return opened(mode, work);
};
const PREFIX = 'zolvet unsaved ';

/** Between two writes: a drag is kept as it goes on, but not at every step. */
const PAUSE = 150;

/** How long sessions have to say that they are alive. */
const PRESENCE = 200;

/** Keeps the unsaved work of one session in this browser until it is saved. */
export class Keeper {
  readonly session = newId();
  private latest: Kept | null | undefined;
  private current: Kept | null = null;
  private busy = false;
  private readonly channel = new BroadcastChannel('zolvet sessions');
  private waiting: (() => void)[] = [];

  constructor(
    private readonly project: string,
    /** Told whether what was to be kept lies in this browser now. */
    private readonly tell: (kept: boolean) => void,
  ) {
    this.channel.onmessage = ({ data }) => {
      if (data?.who === this.project) this.channel.postMessage({ alive: this.session });
    };
  }

  /** Keeps work; null forgets it. The newest wins. */
  keep(work: Pick<Kept, 'revision' | 'document' | 'unanswered'> | null) {
    this.current = work && { ...work, project: this.project, session: this.session, at: Date.now() };
    this.latest = this.current;
    void this.write();
  }

  /** Does something once what is kept now lies in this browser. */
  onceKept(then: () => void) {
    this.waiting.push(then);
  }

  /** Writes what is kept at once, as the page goes: what waits might not be written any more. */
  flush() {
    // Without room or storage, what was written before is what is kept.
    if (this.current) remember(PREFIX + this.key(), textOf(this.current));
  }

  /** What other sessions left of this project, the latest first; not of those that are still at work. */
  async left(): Promise<Kept[]> {
    const alive = new Set<string>();
    const listen = new BroadcastChannel('zolvet sessions');
    listen.onmessage = ({ data }) => void (data?.alive && alive.add(data.alive));
    listen.postMessage({ who: this.project });
    const [all] = await Promise.all([everything(), new Promise((done) => setTimeout(done, PRESENCE))]);
    listen.close();
    return all
      .filter(({ project, session }) => project === this.project && !alive.has(session))
      .sort((a, b) => b.at - a.at);
  }

  dispose() {
    this.channel.close();
  }

  private key() {
    return keyOf({ project: this.project, session: this.session });
  }

  private async write() {
    if (this.busy) return;
    this.busy = true;
    // Writing must not delay what follows the hand.
    await new Promise((done) => window.setTimeout(done));
    while (this.latest !== undefined) {
      const { latest } = this;
      this.latest = undefined;
      try {
        // As text: what has not changed is not gone through again, as the browser would with objects.
        if (latest) await set(this.key(), textOf(latest), store);
        else await forget({ project: this.project, session: this.session });
        this.tell(true);
        for (const then of this.waiting.splice(0)) then();
      } catch {
        this.tell(false);
      }
      await new Promise((done) => window.setTimeout(done, PAUSE));
    }
    this.busy = false;
  }
}

/** Forgets what a session left. */
export async function forget(of: Pick<Kept, 'project' | 'session'>) {
  try {
    localStorage.removeItem(PREFIX + keyOf(of));
    await del(keyOf(of), store);
  } catch {
    // A browser without storage has nothing to forget.
  }
}

function keyOf({ project, session }: Pick<Kept, 'project' | 'session'>): string {
  return session === '' ? project : `${project} ${session}`;
}

/** All that is kept, the latest of each session. */
async function everything(): Promise<Kept[]> {
  const found = new Map<string, Kept>();
  const add = (key: string, kept: Partial<Kept>) => {
    if (!kept.document || kept.revision === undefined) return;
    const [project = '', session = ''] = key.split(' ');
    const whole = { at: 0, unanswered: [], project, session, ...kept } as Kept;
    // The form of documents may have changed since; what was added to it is in none that was kept before.
    whole.document = { ...whole.document, schema };
    whole.unanswered = whole.unanswered.map((document) => ({ ...document, schema }));
    if (whole.at >= (found.get(key)?.at ?? 0)) found.set(key, whole);
  };
  try {
    for (const [key, kept] of await entries<string, Kept | string>(store)) {
      add(key, typeof kept === 'string' ? JSON.parse(kept) : kept);
    }
  } catch {
    // A browser without storage keeps nothing; the service does.
  }
  try {
    for (const key of Object.keys(localStorage).filter((name) => name.startsWith(PREFIX))) {
      add(key.slice(PREFIX.length), JSON.parse(localStorage.getItem(key) ?? '{}'));
    }
  } catch {
    // As above.
  }
  return [...found.values()];
}
