import type { CoreBackend } from './backend';
import type { Schemas } from './client';
import { enlist, noteDrawn, sendForStage, wayOf } from './core';
import { CoreWorker } from './coreWorker';
import { type Regions, regionsIn } from './regions';
import type { WorkerCanvas, WorkerCanvases } from './workerCanvases';

/** What is to be drawn on the stage. */
export type StageQuestion = Omit<Schemas['StageRequest'], 'number' | 'after'>;

/** A picture that somebody has drawn, so that the next one need only say what has changed. */
export interface Drawn {
  by: CoreBackend;
  number: number;
}

/** A part of a scene in px: left, top, width, height. */
export type SceneRegion = [number, number, number, number];

/** What has changed on a picture. */
export interface StagePicture extends Regions {
  drawn: Drawn;
  /** The canvas that a worker has painted it on, with no regions to be put anywhere. */
  leaf: WorkerCanvas | null;
  /** When that was, in ms of the page. */
  at: number | null;
}

/** Where a picture is going to be seen. */
export interface Easel {
  /** The picture that is there, put there by the page. */
  there: Drawn | null;
  /** Canvases that a worker paints on by itself. */
  leaves: WorkerCanvases | null;
  /** Which part of what is seen at which size. */
  view: string;
}

let given = 0;
let ended = 0;

/** Draws the stage: all of it, or what is other than on the picture that is there. */
export async function drawStage(
  question: StageQuestion,
  { there, leaves, view }: Easel,
  signal: AbortSignal,
): Promise<StagePicture> {
  given += 1;
  const [by, number] = [wayOf('/api/stage'), given];
  const leaf = by instanceof CoreWorker ? (leaves?.forView(view, by) ?? null) : null;
  // A worker knows itself what is on its canvases.
  const after = leaf === null && there?.by === by ? there.number : undefined;
  const follows = leaf ? leaves?.shows(leaf, view) === true : after !== undefined;
  const onto = leaf ? { leaf: leaf.id, number } : undefined;
  const begun = performance.now();
  const answer = await sendForStage(by, { ...question, number, after }, { signal, follows, onto });
  const now = performance.now();
  // The first picture of a view, and one after a rest, take longer than those that follow a hand.
  if (follows && begun - ended < FOLLOWS) noteDrawn(by, now - begun);
  ended = now;
  enlist();
  const drawn = { by, number };
  if (answer instanceof ArrayBuffer) {
    return { drawn, leaf: null, at: null, ...regionsIn(new Uint8Array(answer)) };
  }
  const { width, height, at } = answer;
  return { drawn, leaf, at: at - performance.timeOrigin, width, height, regions: [] };
}

/** Ms between pictures that follow a hand. */
const FOLLOWS = 200;
