/**
 * Sessions of one project in several tabs, what the browser keeps, and the service: random orders of edits, answers that
 * come late or never, outages, tabs that close or crash, and decisions. Whatever the order, every edit is in a stored
 * revision or copy, on an open tab, or kept in the browser and offered. Run by `cargo test -p zolvet-e2e --test orders`:
 * the first argument is the seed, the second the number of walks.
 */
import {
  type Effect,
  type Event,
  type SaveState,
  type Stored,
  standingOf,
  standingOfKept,
  step,
  unsaved,
} from '../src/session/saveMachine';

/** A document is the edits that are in it, as text: compared by what it says, as documents are. */
type Doc = string;

const same = (a: Doc, b: Doc) => a === b;
const editsOf = (document: Doc) => document.split(' ').filter((edit) => edit !== '');

interface Entry extends Stored<Doc> {
  unanswered: Doc[];
}

interface Tab {
  key: number;
  standing: SaveState<Doc>;
  waits: boolean;
  /** What was sent to the service and has not arrived there yet. */
  sent: { document: Doc; revision: number } | null;
  /** The answer that is on its way back. */
  answer: Event<Doc> | null;
}

class World {
  private revisions: Doc[] = [''];
  private copies: Doc[] = [];
  private readonly kept = new Map<number, Entry>();
  private tabs: Tab[] = [];
  private away = false;
  /** The project is in the trash. */
  private deleted = false;
  private keys = 0;
  private edits = 0;
  readonly log: string[] = [];

  constructor(private readonly random: () => number) {}

  private pick<T>(of: T[]): T | undefined {
    return of[Math.floor(this.random() * of.length)];
  }

  private get stored(): Stored<Doc> {
    return { revision: this.revisions.length, document: this.revisions.at(-1) ?? '' };
  }

  private hear(tab: Tab, event: Event<Doc>) {
    const [standing, effects] = step(tab.standing, event, same);
    tab.standing = standing;
    this.carryOut(tab, effects);
  }

  private carryOut(tab: Tab, effects: Effect<Doc>[]) {
    for (const effect of effects) {
      const { revision, document, unanswered, sending } = tab.standing;
      if (effect.kind === 'keep') {
        const entry = {
          revision,
          document,
          unanswered: sending === null ? unanswered : [...unanswered, sending],
        };
        this.kept.set(tab.key, entry);
      } else if (effect.kind === 'forget') this.kept.delete(tab.key);
      else if (effect.kind === 'wait') tab.waits = true;
      else if (effect.kind === 'send') tab.sent = { document: effect.document, revision: effect.revision };
    }
  }

  private put({ document, revision }: { document: Doc; revision: number }): Event<Doc> {
    if (this.deleted) return { kind: 'gone' };
    if (revision !== this.revisions.length) return { kind: 'changed', theirs: this.stored };
    this.revisions.push(document);
    return { kind: 'stored', revision: revision + 1 };
  }

  /** One thing that may happen. */
  happen() {
    const tab = this.pick(this.tabs);
    const what = this.random();
    if (!tab || (what < 0.06 && this.tabs.length < 3)) return this.open();
    if (what < 0.36) return this.edit(tab);
    if (what < 0.56) return this.due(tab);
    if (what < 0.68) return this.arrive(tab);
    if (what < 0.82) return this.answered(tab);
    if (what < 0.85) return this.toggle();
    if (what < 0.86) return this.trash();
    if (what < 0.9) return this.leave(tab, what < 0.88);
    if (what < 0.93) return this.look(tab);
    return this.decide(tab);
  }

  private open() {
    const key = ++this.keys;
    if (this.deleted && !this.away) return this.openDeleted();
    const now = this.away ? null : this.stored;
    const [found] = this.free;
    this.log.push(`open ${key} with ${found?.[0] ?? 'nothing'}`);
    if (!now && !found) return;
    const tab: Tab = {
      key,
      standing: standingOf(now ?? (found?.[1] as Entry)),
      waits: false,
      sent: null,
      answer: null,
    };
    this.tabs.push(tab);
    if (!found) return;
    const [other, entry] = found;
    const [standing, effects] = standingOfKept(entry, now, same);
    tab.standing = standing;
    this.carryOut(tab, effects);
    this.kept.delete(other);
  }

  /** What closed tabs left in the browser, the latest first. */
  private get free() {
    const left = [...this.kept].filter(([other]) => !this.tabs.some((tab) => tab.key === other));
    return left.sort(([a], [b]) => b - a);
  }

  /** A project in the trash is not opened; what is kept of it is saved as another, if that is wanted. */
  private openDeleted() {
    const [found] = this.free;
    if (!found || this.random() < 0.5) return;
    this.log.push(`save ${found[0]} as another project`);
    this.copies.push(found[1].document);
    this.kept.delete(found[0]);
  }

  private edit(tab: Tab) {
    const undo = this.random() < 0.15;
    const before = editsOf(tab.standing.document);
    const now = undo ? before.slice(0, -1) : [...before, `e${++this.edits}`];
    this.log.push(`edit ${tab.key}: ${now.at(-1)}${undo ? ' (undone)' : ''}`);
    if (undo && before.length > 0) this.given.add(before.at(-1) as string);
    this.hear(tab, { kind: 'edited', document: now.join(' ') });
  }

  /** Edits that somebody took back: nobody misses them. */
  private readonly given = new Set<string>();

  private due(tab: Tab) {
    if (!tab.waits) return;
    tab.waits = false;
    this.log.push(`due ${tab.key}`);
    this.hear(tab, { kind: 'due' });
  }

  private arrive(tab: Tab) {
    if (!tab.sent) return;
    const { sent } = tab;
    tab.sent = null;
    tab.answer = this.away ? { kind: 'failed', why: 'away' } : this.put(sent);
    this.log.push(`arrive ${tab.key}: ${tab.answer.kind}`);
  }

  private answered(tab: Tab) {
    if (!tab.answer) return;
    // An answer may be lost on its way.
    const lost = this.random() < 0.2;
    const event: Event<Doc> = lost ? { kind: 'failed', why: 'lost' } : tab.answer;
    tab.answer = null;
    this.log.push(`answer ${tab.key}: ${event.kind}`);
    this.hear(tab, event);
  }

  private toggle() {
    this.away = !this.away;
    this.log.push(this.away ? 'away' : 'back');
  }

  private trash() {
    this.deleted = !this.deleted;
    this.log.push(this.deleted ? 'deleted' : 'restored');
  }

  /** A tab is closed, which sends what is not saved; or it crashes. What was on its way may still arrive. */
  private leave(tab: Tab, crash: boolean) {
    if (!crash) this.hear(tab, { kind: 'due' });
    this.log.push(`${crash ? 'crash' : 'close'} ${tab.key}`);
    this.tabs = this.tabs.filter((other) => other !== tab);
    if (tab.sent && !this.away && this.random() < 0.5) this.put(tab.sent);
  }

  private look(tab: Tab) {
    if (this.away || this.deleted) return;
    this.log.push(`look ${tab.key}`);
    this.hear(tab, { kind: 'read', now: this.stored });
  }

  private decide(tab: Tab) {
    if (tab.standing.phase === 'gone' && !this.away) {
      this.log.push(`save ${tab.key} as another project`);
      this.copies.push(tab.standing.document);
      this.hear(tab, { kind: 'stored_elsewhere', document: tab.standing.document });
      this.tabs = this.tabs.filter((other) => other !== tab);
    }
    if (tab.standing.phase !== 'stale') return;
    const mine = this.random() < 0.5;
    if (!mine && this.away) return;
    this.log.push(`${mine ? 'keep mine' : 'take theirs'} ${tab.key}`);
    if (!mine) this.copies.push(tab.standing.document);
    this.hear(tab, mine ? { kind: 'keep_mine' } : { kind: 'take_theirs' });
  }

  /** Lets everything come to rest, with the service there and every decision taken. */
  settle() {
    this.away = false;
    this.deleted = false;
    for (let rounds = 0; rounds < 200; rounds++) {
      if (this.tabs.length === 0) this.open();
      for (const tab of this.tabs) {
        this.due(tab);
        this.arrive(tab);
        if (tab.answer) this.hear(tab, tab.answer);
        tab.answer = null;
        if (tab.standing.phase === 'stale') this.hear(tab, { kind: 'keep_mine' });
        if (tab.standing.phase === 'gone') this.look(tab);
      }
      const left = this.free.length > 0;
      if (left) this.open();
      const open = this.tabs.some((tab) => unsaved(tab.standing) || tab.sent || tab.answer);
      if (!open && !left) return;
    }
    throw new Error('it does not come to rest');
  }

  /** Where every edit is; throws where one is nowhere. */
  check() {
    const places = [
      ...this.revisions,
      ...this.copies,
      ...this.tabs.map((tab) => tab.standing.document),
      ...[...this.kept.values()].map((entry) => entry.document),
    ];
    const there = new Set(places.flatMap(editsOf));
    for (let edit = 1; edit <= this.edits; edit++) {
      if (!there.has(`e${edit}`) && !this.given.has(`e${edit}`)) throw new Error(`e${edit} is lost`);
    }
    for (const tab of this.tabs) {
      const { standing } = tab;
      const safe = !unsaved(standing) || this.kept.get(tab.key)?.document === standing.document;
      if (!safe) throw new Error(`what tab ${tab.key} has not saved is not kept`);
      if (standing.phase === 'saved' && unsaved(standing)) throw new Error(`tab ${tab.key} says it is saved`);
    }
  }

  /** After everything has come to rest nothing is only kept, and no tab is in the dark about what is stored. */
  checkSettled() {
    this.check();
    if (this.kept.size > 0) throw new Error('something is kept that is saved');
    for (const { key, standing } of this.tabs) {
      if (standing.phase !== 'saved') throw new Error(`tab ${key} is ${standing.phase}`);
    }
  }
}

/** Numbers from a seed (mulberry32, a public-domain generator). */
function generator(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

declare const process: { argv: string[]; exit: (code: number) => never };
const [first = 1, walks = 1000] = process.argv.slice(2).map(Number);
for (let seed = first; seed < first + walks; seed++) {
  const world = new World(generator(seed));
  try {
    for (let events = 0; events < 120; events++) {
      world.happen();
      world.check();
    }
    world.settle();
    world.checkSettled();
  } catch (error) {
    console.error(`seed ${seed}: ${(error as Error).message}\n${world.log.join('\n')}`);
    process.exit(1);
  }
}
console.log(`${walks} walks`);
