import { ApiFailure, type Problem } from './client';
import type { FromWorker, Painted, ToWorker } from './messages';
import { type How, Way } from './way';

/** The worker cannot go on: somebody else has to answer. */
export class Broken extends Error {}

interface Waiting {
  resolve: (answer: ArrayBuffer | Painted) => void;
  reject: (reason: unknown) => void;
}

/** The core in a worker of the page. */
export class CoreWorker extends Way {
  private readonly worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, Waiting>();
  private given = 0;
  private leaves = 0;
  private broken: Broken | null = null;
  /** Settled once it answers, or cannot. */
  readonly ready: Promise<void>;

  constructor(core: WebAssembly.Module, cache: number) {
    super();
    this.ready = new Promise((resolve, reject) => this.waiting.set(0, { resolve: () => resolve(), reject }));
    this.worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.hear(data);
    this.worker.onerror = ({ message }) => this.end(message);
    this.say({ kind: 'start', core, cache });
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

  protected send(path: string, body: string, { signal, onto }: How): Promise<ArrayBuffer | Painted> {
    if (this.broken) return Promise.reject(this.broken);
    signal?.throwIfAborted();
    this.given += 1;
    const id = this.given;
    this.say({ kind: 'ask', id, path, body, onto });
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      signal?.addEventListener('abort', () => {
        if (!this.waiting.delete(id)) return;
        this.say({ kind: 'cancel', id });
        reject(signal.reason);
      });
    });
  }

  private hear(message: FromWorker) {
    if (message.kind === 'broken') return this.end(message.reason);
    const id = message.kind === 'ready' ? 0 : message.id;
    const waiting = this.waiting.get(id);
    this.waiting.delete(id);
    if (message.kind === 'ready') return waiting?.resolve(new ArrayBuffer(0));
    if (message.kind === 'painted') return waiting?.resolve(message.painted);
    const { status, bytes } = message;
    if (status === 200) waiting?.resolve(bytes);
    else waiting?.reject(new ApiFailure(status, JSON.parse(new TextDecoder().decode(bytes)) as Problem));
  }

  private end(reason: string) {
    this.broken ??= new Broken(reason);
    this.worker.terminate();
    for (const { reject } of this.waiting.values()) reject(this.broken);
    this.waiting.clear();
  }

  private say(message: ToWorker, transfer: Transferable[] = []) {
    this.worker.postMessage(message, transfer);
  }
}
