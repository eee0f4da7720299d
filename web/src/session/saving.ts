import { create } from 'zustand';
import { ApiFailure, answer, api, type Project, type Schemas } from '../core/client';
import { type Kept, keep } from './keeping';
import { open, useDocument } from './store';

/** Where the document stands with the service. */
export type SaveState =
  | { kind: 'saved' }
  | { kind: 'waiting' }
  | { kind: 'saving' }
  | { kind: 'unreachable'; why: string }
  | { kind: 'refused'; why: string }
  | { kind: 'stale'; stored: Schemas['Stored'] };

export const useSaving = create<{ state: SaveState; revision: number }>()(() => ({
  state: { kind: 'saved' },
  revision: 0,
}));

let stored: Project | null = null;
let timer: number | undefined;

/** Starts with a document as it is stored. */
export function startSaving(id: string, revision: number, document: Project) {
  stored = document;
  useSaving.setState({ state: { kind: 'saved' }, revision });
  open(id, document);
}

/** Goes on with work that was kept in this browser, on top of what is stored now. */
export function resume(id: string, kept: Kept, now: Schemas['Stored'] | null) {
  startSaving(id, kept.revision, now?.document ?? kept.document);
  if (!now) {
    // The service is away: nothing is known of what it has, so that what is kept counts as not saved.
    stored = null;
    later(2000);
    return;
  }
  useDocument.setState({ document: kept.document, did: 'Go on with what this browser kept' });
  if (kept.revision !== now.revision) useSaving.setState({ state: { kind: 'stale', stored: now } });
}

useDocument.subscribe((now, before) => {
  if (now.document === before.document || !now.document) return;
  if (now.document === stored) {
    // What was done is undone before it was saved.
    if (useSaving.getState().state.kind === 'waiting') useSaving.setState({ state: { kind: 'saved' } });
    keep(now.id, null);
    return;
  }
  keep(now.id, { revision: useSaving.getState().revision, document: now.document });
  if (useSaving.getState().state.kind === 'stale') return;
  later(300);
});

function later(delay: number) {
  if (useSaving.getState().state.kind !== 'saving') useSaving.setState({ state: { kind: 'waiting' } });
  window.clearTimeout(timer);
  timer = window.setTimeout(save, delay);
}

async function save() {
  const { id, document } = useDocument.getState();
  const { state, revision } = useSaving.getState();
  if (!document || document === stored || state.kind === 'saving' || state.kind === 'stale') return;
  useSaving.setState({ state: { kind: 'saving' } });
  try {
    const saved = answer(await put(id, revision, document));
    stored = document;
    useSaving.setState({ state: { kind: 'saved' }, revision: saved.revision });
    if (useDocument.getState().document !== stored) later(0);
    else keep(id, null);
  } catch (failure) {
    useSaving.setState({ state: stateAfter(failure) });
    if (useSaving.getState().state.kind === 'unreachable') timer = window.setTimeout(save, 2000);
  }
}

function put(id: string, revision: number, document: Project, leaving = false) {
  return api.PUT('/api/projects/{id}', {
    params: { path: { id }, header: { 'If-Match': `"${revision}"` } },
    body: document,
    keepalive: leaving,
  });
}

function stateAfter(failure: unknown): SaveState {
  if (!(failure instanceof ApiFailure)) return { kind: 'unreachable', why: 'Service away' };
  // What passes by itself, or once somebody has made room, is tried again.
  if (failure.status === 507) return { kind: 'unreachable', why: 'No space left for the service' };
  if ([408, 409, 429, 503].includes(failure.status)) return { kind: 'unreachable', why: 'Service busy' };
  if (failure.status === 412 && failure.problem?.stored) {
    return { kind: 'stale', stored: failure.problem.stored };
  }
  return { kind: 'refused', why: failure.message };
}

/** Saves mine as the next revision after theirs; theirs stays among the revisions. */
export async function keepMine(theirs: Schemas['Stored']) {
  useSaving.setState({ state: { kind: 'waiting' }, revision: theirs.revision });
  await save();
}

/** Opens theirs, and keeps mine as a project of its own. */
export async function takeTheirs(theirs: Schemas['Stored']) {
  const { id, document } = useDocument.getState();
  if (document) {
    const copy = { ...document, name: `${document.name} (my version)` };
    answer(await api.POST('/api/projects', { body: copy }));
  }
  startSaving(id, theirs.revision, theirs.document);
}

window.addEventListener('pagehide', () => {
  const { id, document } = useDocument.getState();
  const { state, revision } = useSaving.getState();
  if (!document || document === stored || state.kind !== 'waiting') return;
  // Browsers refuse to finish a request that is longer than 64 KiB without its page: what this browser keeps is gone on
  // with when the project is opened again.
  put(id, revision, document, true).catch(() => undefined);
});

window.addEventListener('beforeunload', (event) => {
  const { document } = useDocument.getState();
  // All else is kept in this browser and gone on with when the project is opened again.
  if (document && document !== stored && useSaving.getState().state.kind === 'refused') {
    event.preventDefault();
  }
});
