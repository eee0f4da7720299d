import { create } from 'zustand';
import { type CallOptions, type CoreBackend, read } from './backend';
import { Broken, CoreWorker } from './coreWorker';
import { answerOf, ask, type Instance, instantiate } from './instance';
import type { Painted } from './messages';
import { type AnswerOf, isForWorkers, type Path, type RequestOf } from './queries';
import { Service } from './service';
import { remember, remembered } from './storage';

/** Who draws and computes: whoever was measured to be faster, or one of the two. */
export type Choice = 'faster' | 'worker' | 'service';

interface CoreState {
  choice: Choice;
  /** Who answers now. */
  who: 'worker' | 'service';
  /** Whether this browser could; null while that is not known. */
  able: boolean | null;
}

const KEY = 'zolvet-core';

export const useCore = create<CoreState>()(() => ({ choice: chosen(), who: 'service', able: null }));

// For whoever looks at the page from outside.
useCore.subscribe(({ who }) => {
  document.documentElement.dataset.core = who;
});

function chosen(): Choice {
  const kept = remembered(KEY);
  return kept === 'worker' || kept === 'service' ? kept : 'faster';
}

export function chooseCore(choice: Choice) {
  remember(KEY, choice);
  useCore.setState({ choice });
  settle();
}

const service = new Service();
/** One for the stage, and one for everything else, which so never keeps the stage waiting. */
let workers: { stage: CoreWorker; others: CoreWorker } | null = null;

/** What is drawn or computed while the hand is on something, besides the stage quick enough not to delay it. */
const withTheStage: ReadonlySet<string> = new Set(['/api/stage', '/api/outline', '/api/boxes']);

/** The last picture of the stage that was asked for while a hand changes something. */
let drawing: Promise<unknown> = Promise.resolve();
/** The same, as long as a worker of the page draws it. */
let drawingHere: Promise<void> | null = null;
/** Ms that others wait for it at most. */
const WAITS = 100;

/**
 * Draws what changes on the stage; what is asked meanwhile besides waits, so that it does not take a core from it. Whatever is
 * drawn for the first time is not waited for.
 */
export function sendForStage(
  way: CoreBackend,
  question: object,
  { follows, ...how }: CallOptions & { follows: boolean },
): Promise<ArrayBuffer | Painted> {
  const answered = send(way, '/api/stage', question, how);
  if (follows) {
    const ended = answered
      .catch(() => undefined)
      .then(() => {
        if (drawingHere === ended) drawingHere = null;
      });
    drawing = ended;
    drawingHere = way === service ? null : ended;
  }
  return answered;
}

/** Settled once a worker of the page has drawn what a hand changes on the stage; null when none is drawing that. */
export function stageDrawing(): Promise<void> | null {
  return drawingHere;
}

/** Asks the core. */
export async function askCore<P extends Path>(
  path: P,
  question: RequestOf<P>,
  signal?: AbortSignal,
): Promise<AnswerOf<P>> {
  if (useCore.getState().who === 'worker' && !withTheStage.has(path)) {
    await Promise.race([drawing, new Promise((resolve) => setTimeout(resolve, WAITS))]);
  }
  return read(await send(wayOf(path), path, question as object, { signal })) as AnswerOf<P>;
}

/** Asks the service, which works on several things at a time. */
export async function askService<P extends Path>(
  path: P,
  question: RequestOf<P>,
  signal?: AbortSignal,
): Promise<AnswerOf<P>> {
  return read(await service.ask(path, question as object, { signal })) as AnswerOf<P>;
}

/** The core in the page itself, for what has to be answered at once. */
let here: Instance | null = null;

/** Asks for what a hand waits for: the page's own core answers at once, the service as soon as it can. */
export async function askAtOnce<P extends Path>(path: P, question: RequestOf<P>): Promise<AnswerOf<P>> {
  if (here && ask(here, path, JSON.stringify(question)) === 200) {
    return JSON.parse(new TextDecoder().decode(answerOf(here)));
  }
  return askService(path, question);
}

/** Who answers questions of a path now. */
export function wayOf(path: string): CoreBackend {
  if (useCore.getState().who === 'service' || !workers || !isForWorkers(path)) return service;
  const worker = withTheStage.has(path) ? workers.stage : workers.others;
  return worker.answers ? worker : service;
}

/** Asks somebody; where a worker breaks, the service answers in its place. */
export async function send(
  way: CoreBackend,
  path: string,
  question: object,
  how: CallOptions,
): Promise<ArrayBuffer | Painted> {
  try {
    return await way.ask(path, question, how);
  } catch (error) {
    if (!(error instanceof Broken)) throw error;
    // One that was made anew goes on with everything else.
    if (!(way instanceof CoreWorker && way.answers)) dismiss();
    return service.ask(path, question, how);
  }
}

/** How long the last pictures of the stage took, while something was being changed. */
const took: Record<'worker' | 'service', number[]> = { worker: [], service: [] };
/** So many are compared. */
const COMPARED = 7;
/** The service has to be faster by this much before it is asked though a worker could answer. */
const MUCH = 1.5;

/** Notes how long a picture of the stage took, and lets the faster one go on. */
export function noteDrawn(way: CoreBackend, ms: number) {
  const times = took[way === service ? 'service' : 'worker'];
  times.push(ms);
  if (times.length > COMPARED) times.shift();
  settle();
}

function settle() {
  const { choice, who } = useCore.getState();
  const next = workers ? faster(choice) : 'service';
  if (next !== who) useCore.setState({ who: next });
}

function faster(choice: Choice): 'worker' | 'service' {
  if (choice !== 'faster') return choice;
  // A worker asks nobody else for time: it is taken unless it was seen to be slower.
  if (took.worker.length < COMPARED || took.service.length < 3) return 'worker';
  return median(took.worker) > MUCH * median(took.service) ? 'service' : 'worker';
}

function median(times: number[]): number {
  return times.toSorted((a, b) => a - b)[times.length >> 1] ?? 0;
}

let enlisted = false;
let tries = 0;
/** Between tries, while the core for browsers is still being built. */
const AGAIN = 15_000;
const MOST = 40;

/** Gets the core into workers of the page, where the service has it for browsers and this one can run it; begun once. */
export function enlist() {
  if (enlisted) return;
  enlisted = true;
  void fetchCore();
}

async function fetchCore() {
  const response = await fetch('/core.wasm').catch(() => null);
  // An answer without content says that it is still being built.
  if (response?.status !== 200) return later();
  try {
    await employ(await WebAssembly.compileStreaming(response));
  } catch {
    // What this browser cannot run, the service does, as before.
    useCore.setState({ able: false });
  }
}

/** Tries again when it may have been built, or the network may be back. */
function later() {
  if (tries === MOST) return;
  tries += 1;
  setTimeout(() => void fetchCore(), AGAIN);
}

/** Megabytes that pictures are kept in: the stage on a dense screen takes up to thirty for one surface. */
const STAGE_CACHE = 160;
const OTHER_CACHE = 40;

async function employ(core: WebAssembly.Module) {
  const both = {
    stage: new CoreWorker(core, STAGE_CACHE, true),
    others: new CoreWorker(core, OTHER_CACHE, false),
  };
  await Promise.all([both.stage.ready, both.others.ready]);
  here = await instantiate(core);
  workers = both;
  useCore.setState({ able: true });
  settle();
}

/** A worker broke: both go, and are not asked again. */
function dismiss() {
  workers?.stage.stop();
  workers?.others.stop();
  workers = null;
  useCore.setState({ able: false });
  settle();
}
