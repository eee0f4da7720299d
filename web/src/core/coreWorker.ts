import { words } from '../messages';
import { type CallOptions, CoreBackend } from './backend';
import { ApiFailure, type Problem } from './client';
import type { FromWorker, Painted, ToWorker } from './messages';

/** The worker cannot go on, or not with this question: somebody else has to answer. */
export class Broken extends Error {}

/** Pictures or fonts that a question needs did not come this time. */
class Unloaded extends ApiFailure {
  constructor() {
    super(503, undefined, words.core.filesDidNotLoad);
  }
}

type Ask = Extract<ToWorker, { kind: 'ask' }>;

interface Waiting {
  ask: Ask | null;
  resolve: (answer: ArrayBuffer | Painted) => void;
  reject: (reason: unknown) => void;
}

/** Ms for which a worker goes on with what nobody waits for any more; then it is ended and made anew. */
const GRACE = 250;
/** Ms for which it goes on with one question at most: as much as the service gives it, and the time to begin. */
const LONGEST = 20_000;
/** How often it is made anew after it broke, within a minute. */
const MOST_BROKEN = 3;

/** The core in a worker of the page. */
export class CoreWorker extends CoreBackend {
  private worker: Worker;
  private readonly waiting = new Map<number, Waiting>();
  private given = 0;
  private leaves = 0;
  private broken: Broken | null = null;
  /** What is being answered, and what ends it. */
  private answering: { id: number; timer: number } | null = null;
  private breaks: number[] = [];
  /** Settled once it answers, or cannot. */
  readonly ready: Promise<void>;

  /** Megabytes are kept in `cache`. One that paints cannot be made anew, as it has the page's canvases. */
  constructor(
    private readonly core: WebAssembly.Module,
    private readonly cache: number,
    private readonly paints: boolean,
  ) {
    super();
    this.ready = new Promise((resolve, reject) =>
      this.waiting.set(0, { ask: null, resolve: () => resolve(), reject }),
    );
    this.worker = this.begun();
  }

  get answers(): boolean {
    return this.broken === null;
  }

  stop() {
    this.end('stopped');
  }

  /** Gives it a canvas to paint on; says what that is called. */
  takeLeaf(canvas: OffscreenCanvas): number {
    this.leaves += 1;
    this.say({ kind: 'leaf', leaf: this.leaves, canvas }, [canvas]);
    return this.leaves;
  }

  letGo(leaf: number) {
    this.say({ kind: 'letGo', leaf });
  }

  protected send(path: string, body: string, { signal, onto }: CallOptions): Promise<ArrayBuffer | Painted> {
    if (this.broken) return Promise.reject(this.broken);
    signal?.throwIfAborted();
    this.given += 1;
    const id = this.given;
    const ask: Ask = { kind: 'ask', id, path, body, onto };
    this.say(ask);
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { ask, resolve, reject });
      signal?.addEventListener('abort', () => {
        if (!this.waiting.delete(id)) return;
        this.say({ kind: 'cancel', id });
        if (this.answering?.id === id) this.endsWithin(id, GRACE);
        reject(signal.reason);
      });
    });
  }

  private begun(): Worker {
    const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.hear(data);
    worker.onerror = ({ message }) => this.fail(message);
    worker.postMessage({ kind: 'start', core: this.core, cache: this.cache } satisfies ToWorker);
    return worker;
  }

  private hear(message: FromWorker) {
    if (message.kind === 'broken') return this.fail(message.reason);
    if (message.kind === 'begun') {
      // Whoever asked may have gone while this was said.
      return this.endsWithin(message.id, this.waiting.has(message.id) ? LONGEST : GRACE);
    }
    const id = message.kind === 'ready' ? 0 : message.id;
    if (this.answering?.id === id) this.answered();
    const waiting = this.waiting.get(id);
    this.waiting.delete(id);
    if (message.kind === 'ready') return waiting?.resolve(new ArrayBuffer(0));
    if (message.kind === 'painted') return waiting?.resolve(message.painted);
    if (message.kind === 'unloaded') return waiting?.reject(new Unloaded());
    const { status, bytes } = message;
    if (status === 200) waiting?.resolve(bytes);
    else waiting?.reject(new ApiFailure(status, JSON.parse(new TextDecoder().decode(bytes)) as Problem));
  }

  private answered() {
    window.clearTimeout(this.answering?.timer);
    this.answering = null;
  }

  /** Ends the worker if it does not answer by then. */
  private endsWithin(id: number, ms: number) {
    if (this.paints) return;
    this.answered();
    this.answering = { id, timer: window.setTimeout(() => this.renew('it took too long'), ms) };
  }

  /** The worker broke on what it was answering: somebody else answers that, and another worker the rest. */
  private fail(reason: string) {
    const now = Date.now();
    this.breaks = [...this.breaks.filter((at) => now - at < 60_000), now];
    if (this.paints || !this.answering || this.breaks.length > MOST_BROKEN) this.end(reason);
    else this.renew(reason);
  }

  /**
   * Ends the worker and makes another one. What waits is asked again; what was held of projects is sent again once the new one
   * says that it does not have it.
   */
  private renew(reason: string) {
    const waited = this.answering && this.waiting.get(this.answering.id);
    if (this.answering) this.waiting.delete(this.answering.id);
    this.answered();
    this.worker.terminate();
    this.worker = this.begun();
    for (const { ask } of this.waiting.values()) if (ask) this.say(ask);
    waited?.reject(new Broken(reason));
    const { dataset } = document.documentElement;
    // For whoever looks at the page from outside.
    dataset.coreRenewed = String(Number(dataset.coreRenewed ?? 0) + 1);
  }

  private end(reason: string) {
    this.answered();
    this.broken ??= new Broken(reason);
    this.worker.terminate();
    for (const { reject } of this.waiting.values()) reject(this.broken);
    this.waiting.clear();
  }

  private say(message: ToWorker, transfer: Transferable[] = []) {
    this.worker.postMessage(message, transfer);
  }
}
