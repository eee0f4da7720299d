import { dequal } from 'dequal';
import { create } from 'zustand';
import { ApiFailure, answer, api, type Project, Unreachable } from '../core/client';
import { words } from '../messages';
import { forget, Keeper, type Kept } from './keeper';
import {
  type Effect,
  type Event,
  type Phase,
  type SaveState,
  type Stored,
  standingOf,
  standingOfKept,
  step,
  unsaved,
} from './saveMachine';
import { open, showAnother, shut, useDocument } from './store';

/** What the screen says of the open project's saving. */
interface Saving {
  phase: Phase;
  why: string;
  theirs: Stored<Project> | null;
  /** Whether what is not saved lies in this browser. */
  kept: boolean;
  /** Unsaved work that other sessions left of this project. */
  left: Kept[];
}

export const useSaving = create<Saving>()(() => ({
  phase: 'saved',
  why: '',
  theirs: null,
  kept: true,
  left: [],
}));

/** Which project is being opened, and why that did not work. */
export const useOpening = create<{ id: string | null; failure: Error | null }>()(() => ({
  id: null,
  failure: null,
}));

/** The open project: its document, its saving, what this browser keeps of it. */
class Session {
  private timer = 0;
  private keepalive = false;
  private sending: Promise<void> = Promise.resolve();
  /** Another project may be open: answers that come now are not for what is on the screen. */
  private over = false;
  private readonly unsubscribe: () => void;

  constructor(
    readonly id: string,
    private standing: SaveState<Project>,
    private readonly keeper: Keeper,
  ) {
    this.unsubscribe = useDocument.subscribe((now, before) => {
      if (now.document && now.document !== before.document && now.document !== this.standing.document) {
        this.hear({ kind: 'edited', document: now.document });
      }
    });
  }

  /** Carries out what is to be done at the start. */
  begin(effects: Effect<Project>[]) {
    this.carryOut(effects);
    this.publish();
  }

  hear(event: Event<Project>) {
    const [standing, effects] = step(this.standing, event, same);
    this.standing = standing;
    this.carryOut(effects);
    this.publish();
  }

  /** Reads what the service has, where it may have moved on unseen. */
  async look() {
    if (useDocument.getState().gesture) return;
    try {
      const now = await read(this.id);
      if (!this.over) this.hear({ kind: 'read', now });
    } catch {
      // A service that is away is noticed by the next save.
    }
  }

  /** Keeps mine as a project of its own, and opens theirs. */
  async takeTheirs() {
    const { document } = this.standing;
    const copy = { ...document, name: words.session.myVersion(document.name) };
    answer(await api.POST('/api/projects', { body: copy }));
    if (!this.over) this.hear({ kind: 'take_theirs' });
  }

  /** Makes a new project of what is on the screen, for one that was deleted; gives its address. */
  async saveAsNew(): Promise<string> {
    let { document } = this.standing;
    const made = answer(await api.POST('/api/projects', { body: document }));
    let { revision } = made;
    // What is changed while it is on its way goes there too.
    while (this.standing.document !== document) {
      document = this.standing.document;
      revision = answer(await put(made.id, revision, document)).revision;
    }
    this.hear({ kind: 'stored_elsewhere', document });
    return `/projects/${made.id}`;
  }

  /** The page goes, for good or for a while: what is not saved is sent and kept without waiting for an answer. */
  leave(forGood: boolean) {
    this.keepalive = forGood;
    this.hear({ kind: 'due' });
    this.keepalive = false;
    this.keeper.flush();
  }

  /** Whether work would be lost with the page. */
  get endangered(): boolean {
    return unsaved(this.standing) && (this.standing.phase === 'refused' || !useSaving.getState().kept);
  }

  /** Saves what is not saved, and ends; what could not be saved stays kept. */
  async dispose() {
    this.over = true;
    this.unsubscribe();
    window.clearTimeout(this.timer);
    for (let tries = 0; tries < 2 && unsaved(this.standing); tries++) {
      if (this.standing.sending === null) this.hear({ kind: 'due' });
      await this.sending;
    }
    window.clearTimeout(this.timer);
    this.keeper.dispose();
  }

  private carryOut(effects: Effect<Project>[]) {
    for (const effect of effects) {
      switch (effect.kind) {
        case 'keep': {
          const { revision, document, unanswered, sending } = this.standing;
          this.keeper.keep({
            revision,
            document,
            unanswered: sending ? [...unanswered, sending] : unanswered,
          });
          break;
        }
        case 'forget':
          this.keeper.keep(null);
          break;
        case 'wait':
          window.clearTimeout(this.timer);
          this.timer = window.setTimeout(() => this.hear({ kind: 'due' }), effect.ms);
          break;
        case 'send':
          this.sending = this.send(effect.document, effect.revision);
          break;
        case 'show':
          if (!this.over) showAnother(effect.document);
      }
    }
  }

  private async send(document: Project, revision: number) {
    try {
      const saved = await put(this.id, revision, document, this.keepalive);
      this.hear({ kind: 'stored', revision: answer(saved).revision });
    } catch (failure) {
      this.hear(eventOf(failure));
    }
  }

  private publish() {
    if (current !== this) return;
    const { phase, why, theirs } = this.standing;
    useSaving.setState({ phase, why, theirs });
  }
}

let current: Session | null = null;

/** Sessions that save their last change. */
const ending = new Map<string, Promise<void>>();

export function session(): Session | null {
  return current;
}

/**
 * Opens a project; one that is open already goes on as it is. What this browser kept of it and never saved is gone on
 * with.
 */
export async function openSession(id: string): Promise<void> {
  if (current?.id === id) return current.look();
  if (useOpening.getState().id === id) return;
  useOpening.setState({ id, failure: null });
  void closeSession();
  const keeper = new Keeper(id, (kept) => useSaving.setState({ kept }));
  try {
    await ending.get(id);
    const [now, left] = await Promise.all([readIfThere(id), keeper.left()]);
    if (useOpening.getState().id !== id) return keeper.dispose();
    start(id, now, left, keeper);
    useOpening.setState({ id: null });
  } catch (failure) {
    // Work on a project that was deleted can still be saved as another.
    const left = isGone(failure) ? await keeper.left() : [];
    keeper.dispose();
    if (useOpening.getState().id !== id) return;
    useSaving.setState({ left });
    useOpening.setState({ id: null, failure: failure as Error });
  }
}

/** Ends the open session; what it has not saved yet is saved by the time the promise is kept. */
export async function closeSession(): Promise<void> {
  if (!current) return;
  const { id } = current;
  const end = current.dispose().finally(() => ending.delete(id));
  ending.set(id, end);
  current = null;
  shut();
  await end;
}

function start(id: string, now: Stored<Project> | null, left: Kept[], keeper: Keeper) {
  // What the service has already need not be gone on with.
  const lost = left.filter((kept) => !now || !same(kept.document, now.document));
  for (const kept of left) if (!lost.includes(kept)) void forget(kept);
  const [kept, ...others] = lost;
  if (!kept && !now) throw new Unreachable();
  open(id, (now ?? (kept as Kept)).document);
  useSaving.setState({ kept: true, left: others });
  const [standing, effects]: [SaveState<Project>, Effect<Project>[]] = kept
    ? standingOfKept(kept, now, same)
    : [standingOf(now as Stored<Project>), []];
  current = new Session(id, standing, keeper);
  current.begin(effects);
  if (kept) {
    showAnother(kept.document);
    // Once it lies in the browser as this session's own, and not before.
    keeper.onceKept(() => void forget(kept));
  }
}

/** Makes a project of its own of work that another session left; gives its address. */
export async function saveLeft(kept: Kept): Promise<string> {
  const copy = { ...kept.document, name: words.session.keptInThisBrowser(kept.document.name) };
  const { id } = answer(await api.POST('/api/projects', { body: copy }));
  await dropLeft(kept);
  return `/projects/${id}`;
}

export async function dropLeft(kept: Kept) {
  await forget(kept);
  useSaving.setState(({ left }) => ({ left: left.filter((other) => other !== kept) }));
}

/** What the service has of a project; null when it does not answer. */
async function readIfThere(id: string): Promise<Stored<Project> | null> {
  try {
    return await read(id);
  } catch (failure) {
    if (failure instanceof ApiFailure) throw failure;
    return null;
  }
}

/** Browsers finish a request without its page up to 64 KiB; what is larger is kept, and gone on with later. */
function put(id: string, revision: number, document: Project, keepalive = false) {
  return api.PUT('/api/projects/{id}', {
    params: { path: { id }, header: { 'If-Match': `"${revision}"` } },
    body: document,
    keepalive,
  });
}

async function read(id: string): Promise<Stored<Project>> {
  return answer(await api.GET('/api/projects/{id}', { params: { path: { id } } }));
}

/** Whether two documents say the same; values that are not there are not sent either. */
function same(a: Project, b: Project): boolean {
  return a === b || dequal(sent(a), sent(b));
}

function sent(document: Project): unknown {
  return JSON.parse(JSON.stringify(document));
}

/** Whether a project was deleted. */
export function isGone(failure: unknown): boolean {
  return failure instanceof ApiFailure && failure.status === 404;
}

/** What a save that did not work means. What passes by itself, or once somebody has made room, is tried again. */
function eventOf(failure: unknown): Event<Project> {
  if (!(failure instanceof ApiFailure)) return { kind: 'failed', why: words.session.offline };
  if (isGone(failure)) return { kind: 'gone' };
  const { status, problem } = failure;
  if (status === 412 && problem?.stored) return { kind: 'changed', theirs: problem.stored };
  if (status === 401) return { kind: 'failed', why: words.session.theOwnersKeyIsNeeded };
  if (status === 507) return { kind: 'failed', why: words.session.noSpaceLeftForThe };
  if (status >= 500 || [408, 409, 412, 429].includes(status))
    return { kind: 'failed', why: words.session.serviceBusy };
  return { kind: 'refused', why: failure.message };
}

window.addEventListener('pagehide', () => current?.leave(true));
window.addEventListener('online', () => current?.hear({ kind: 'due' }));
document.addEventListener('visibilitychange', () => {
  if (document.visibilityState === 'hidden') current?.leave(false);
  else void current?.look();
});
window.addEventListener('beforeunload', (event) => {
  // All else is kept in this browser and gone on with when the project is opened again.
  if (current?.endangered) event.preventDefault();
});
