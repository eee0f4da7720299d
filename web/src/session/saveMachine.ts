/**
 * Where one session's document stands with the service and with what this browser keeps: a state machine with nothing
 * around it, so that every order of edits, answers, outages and decisions can be tried (`web/tests/orders.ts`). The
 * session carries its effects out.
 */
export interface SaveState<D> {
  /** What is on the screen. */
  document: D;
  /** The stored revision it was made from. */
  revision: number;
  /** What the service has at that revision; null when it is not known. */
  stored: D | null;
  /** On its way to the service. */
  sending: D | null;
  /** Sent without an answer, the latest last: the service may have any of them. */
  unanswered: D[];
  phase: Phase;
  /** Why it is not saved, in words. */
  why: string;
  /** What somebody else saved in the meantime. */
  theirs: Stored<D> | null;
}

/**
 * `waiting` for the next try; `away`: the last try failed for a reason that passes; `refused`: the service does not take
 * this document; `stale`: somebody else saved, and it is to be decided whose version goes on; `gone`: the project was
 * deleted elsewhere.
 */
export type Phase = 'saved' | 'waiting' | 'sending' | 'away' | 'refused' | 'stale' | 'gone';

export interface Stored<D> {
  revision: number;
  document: D;
}

export type Event<D> =
  | { kind: 'edited'; document: D }
  /** The pause before a try is over. */
  | { kind: 'due' }
  | { kind: 'stored'; revision: number }
  | { kind: 'failed'; why: string }
  | { kind: 'refused'; why: string }
  | { kind: 'gone' }
  /** The service has a revision this document was not made from. */
  | { kind: 'changed'; theirs: Stored<D> }
  /** What the service has, read again. */
  | { kind: 'read'; now: Stored<D> }
  | { kind: 'keep_mine' }
  /** What was on the screen is stored as another project. */
  | { kind: 'stored_elsewhere'; document: D }
  /** Mine is stored as a project of its own; theirs is opened. */
  | { kind: 'take_theirs' };

export type Effect<D> =
  | { kind: 'keep' }
  | { kind: 'forget' }
  | { kind: 'send'; document: D; revision: number }
  | { kind: 'wait'; ms: number }
  | { kind: 'show'; document: D };

/** A pause after an edit, so that a drag is one save. */
const PAUSE = 300;
/** Between tries while the service is away. */
const AGAIN = 2000;
/** How many documents without an answer are remembered. */
const UNANSWERED = 4;

export type Same<D> = (a: D, b: D) => boolean;

/** As a document stands right after it was read. */
export function standingOf<D>({ revision, document }: Stored<D>): SaveState<D> {
  return {
    document,
    revision,
    stored: document,
    sending: null,
    unanswered: [],
    phase: 'saved',
    why: '',
    theirs: null,
  };
}

/** As kept work stands that is gone on with; `now` is what the service has, null while it is away. */
export function standingOfKept<D>(
  kept: Stored<D> & { unanswered: D[] },
  now: Stored<D> | null,
  same: Same<D>,
): [SaveState<D>, Effect<D>[]] {
  const start: SaveState<D> = {
    ...standingOf(kept),
    stored: null,
    unanswered: kept.unanswered,
    phase: 'waiting',
  };
  if (!now) return [start, [{ kind: 'keep' }, { kind: 'wait', ms: AGAIN }]];
  const [next, effects] =
    now.revision === kept.revision && !same(now.document, kept.document)
      ? waiting({ ...start, stored: now.document }, 0)
      : changed(start, now, same);
  return [next, [{ kind: 'keep' }, ...effects]];
}

/** Whether the service may have anything else than what is on the screen. */
export function unsaved<D>({ document, stored, unanswered }: SaveState<D>): boolean {
  return document !== stored || unanswered.length > 0;
}

/** What an event makes of a standing, and what is to be done. */
export function step<D>(now: SaveState<D>, event: Event<D>, same: Same<D>): [SaveState<D>, Effect<D>[]] {
  switch (event.kind) {
    case 'edited':
      return edited({ ...now, document: event.document });
    case 'due':
      if (!unsaved(now) || now.sending !== null || now.phase === 'stale') return [now, []];
      return [
        { ...now, phase: 'sending', sending: now.document },
        [{ kind: 'send', document: now.document, revision: now.revision }],
      ];
    case 'stored':
      return arrived({
        ...now,
        stored: now.sending,
        sending: null,
        unanswered: [],
        revision: event.revision,
      });
    case 'failed':
      return [
        { ...now, sending: null, unanswered: withSent(now), phase: 'away', why: event.why },
        [{ kind: 'keep' }, { kind: 'wait', ms: AGAIN }],
      ];
    case 'refused':
      // What was typed since may be taken.
      if (now.document !== now.sending) return waiting({ ...now, sending: null }, 0);
      return [{ ...now, sending: null, phase: 'refused', why: event.why }, [{ kind: 'keep' }]];
    case 'gone':
      return [
        { ...now, sending: null, unanswered: withSent(now), phase: 'gone', why: '' },
        [{ kind: 'keep' }],
      ];
    case 'stored_elsewhere':
      return arrived({ ...now, stored: event.document, sending: null, unanswered: [] });
    case 'changed':
      return changed(now, event.theirs, same);
    case 'read':
      return read(now, event.now, same);
    case 'keep_mine':
      if (!now.theirs) return [now, []];
      return waiting({ ...now, revision: now.theirs.revision, stored: now.theirs.document, theirs: null }, 0);
    case 'take_theirs':
      if (!now.theirs) return [now, []];
      return [standingOf(now.theirs), [{ kind: 'forget' }, { kind: 'show', document: now.theirs.document }]];
  }
}

/** Everything the service may have without our knowing. */
function withSent<D>({ sending, unanswered }: SaveState<D>): D[] {
  return sending === null ? unanswered : [...unanswered, sending].slice(-UNANSWERED);
}

function edited<D>(now: SaveState<D>): [SaveState<D>, Effect<D>[]] {
  const open = now.sending !== null || now.phase === 'stale';
  // What was done is undone before it was saved.
  if (!unsaved(now) && !open) return [{ ...now, phase: 'saved', why: '' }, [{ kind: 'forget' }]];
  if (open) return [now, [{ kind: 'keep' }]];
  // While the service is away it is said so until a try succeeds.
  const phase = now.phase === 'away' ? 'away' : 'waiting';
  return [{ ...now, phase }, [{ kind: 'keep' }, { kind: 'wait', ms: PAUSE }]];
}

/** The service has what was sent. */
function arrived<D>(now: SaveState<D>): [SaveState<D>, Effect<D>[]] {
  if (unsaved(now)) return waiting(now, 0);
  return [{ ...now, phase: 'saved', why: '', theirs: null }, [{ kind: 'forget' }]];
}

function waiting<D>(now: SaveState<D>, ms: number): [SaveState<D>, Effect<D>[]] {
  return [{ ...now, phase: 'waiting', why: '' }, [{ kind: 'keep' }, { kind: 'wait', ms }]];
}

/** The service has another revision than this document was made from: by somebody else, or by a save of ours. */
function changed<D>(now: SaveState<D>, theirs: Stored<D>, same: Same<D>): [SaveState<D>, Effect<D>[]] {
  const based = { ...now, sending: null, unanswered: [], revision: theirs.revision, theirs: null };
  if (same(theirs.document, now.document)) return arrived({ ...based, stored: now.document });
  const ours = [...withSent(now), now.stored].some((own) => own !== null && same(own, theirs.document));
  if (ours) return waiting({ ...based, stored: theirs.document }, 0);
  return [{ ...now, sending: null, phase: 'stale', why: '', theirs }, [{ kind: 'keep' }]];
}

/** The project is come back to, or the service is back: what it has may have moved on. */
function read<D>(now: SaveState<D>, found: Stored<D>, same: Same<D>): [SaveState<D>, Effect<D>[]] {
  // It was taken out of the trash again.
  if (now.phase === 'gone' && found.revision === now.revision) return waiting(now, 0);
  if (now.sending !== null || found.revision === now.revision) return [now, []];
  if (unsaved(now)) return changed(now, found, same);
  return [standingOf(found), [{ kind: 'forget' }, { kind: 'show', document: found.document }]];
}
