/// <reference lib="webworker" />
import { answerOf, ask, type Instance, instantiate, putFile } from './instance';
import type { FromWorker, PaintTarget, ToWorker } from './messages';
import { putRegions, regionsIn } from './regions';

type Asked = Extract<ToWorker, { kind: 'ask' }>;

/** The status of a question for which files have to come first; their ids are the answer. */
const FILES = 424;

const page = self as unknown as DedicatedWorkerGlobalScope;
const waiting: Asked[] = [];
/** The canvases to paint on, and the number of the picture that is on each. */
const leaves = new Map<number, { canvas: OffscreenCanvas; number: number | null }>();
let core: Instance | null = null;
let busy = false;

page.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'start') void start(data.core, data.cache);
  else if (data.kind === 'cancel') drop(data.id);
  else if (data.kind === 'leaf') leaves.set(data.leaf, { canvas: data.canvas, number: null });
  else if (data.kind === 'letGo') leaves.delete(data.leaf);
  else {
    waiting.push(data);
    void work();
  }
};

async function start(module: WebAssembly.Module, cache: number) {
  core = await instantiate(module);
  core.zolvet_start(cache * 1024 * 1024);
  say({ kind: 'ready' });
  // What was asked meanwhile.
  void work();
}

function drop(id: number) {
  const at = waiting.findIndex((asked) => asked.id === id);
  if (at >= 0) waiting.splice(at, 1);
}

async function work() {
  if (busy || !core) return;
  busy = true;
  try {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      await answer(core, next);
      // What was cancelled in the meantime is taken out before the next is begun.
      if (waiting.length > 0) await new Promise((resolve) => setTimeout(resolve, 0));
    }
  } catch (error) {
    say({ kind: 'broken', reason: String(error) });
  }
  busy = false;
}

async function answer(core: Instance, { id, path, body, onto }: Asked) {
  if (!onto) say({ kind: 'begun', id });
  const question = onto ? following(body, onto) : body;
  let status = ask(core, path, question);
  if (status === FILES) {
    const ids: string[] = JSON.parse(new TextDecoder().decode(answerOf(core)));
    const unloaded = [];
    for (const file of ids) {
      const bytes = await fetched(file);
      if (bytes) putFile(core, file, bytes);
      else unloaded.push(file);
    }
    // What did not load this time is asked for again, and not taken for an empty file.
    if (unloaded.length > 0) return say({ kind: 'unloaded', id });
    status = ask(core, path, question);
  }
  if (onto && status === 200) return paint(core, id, onto);
  const bytes = answerOf(core).slice().buffer;
  say({ kind: 'answer', id, status, bytes }, [bytes]);
}

/** A question for a picture that follows the one on its canvas, if there is one: only what changes is answered then. */
function following(body: string, { leaf }: PaintTarget): string {
  const after = leaves.get(leaf)?.number ?? null;
  return after === null ? body : `${body.slice(0, -1)},"after":${after}}`;
}

/** Puts the picture that was answered on its canvas. The page is told, but need not do anything for it to be seen. */
function paint(core: Instance, id: number, { leaf, number }: PaintTarget) {
  const regions = regionsIn(answerOf(core));
  const known = leaves.get(leaf);
  if (known) {
    putRegions(known.canvas, regions);
    known.number = number;
  }
  const { width, height } = regions;
  say({ kind: 'painted', id, painted: { width, height, at: performance.timeOrigin + performance.now() } });
}

/** Ms for which a file is waited for. */
const PATIENCE = 15_000;

/** The file of an asset: an empty one where the service has none, and null where it did not come. */
async function fetched(id: string): Promise<Uint8Array | null> {
  try {
    const signal = AbortSignal.timeout(PATIENCE);
    const response = await fetch(`/api/assets/${encodeURIComponent(id)}`, { signal });
    if (response.status === 404) return new Uint8Array();
    return response.ok ? new Uint8Array(await response.arrayBuffer()) : null;
  } catch {
    return null;
  }
}

function say(message: FromWorker, transfer: Transferable[] = []) {
  page.postMessage(message, transfer);
}
