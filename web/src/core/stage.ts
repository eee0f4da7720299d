import type { Schemas } from './client';
import { enlist, noteDrawn, sendForStage, wayOf } from './core';
import type { Way } from './way';

/** What is to be drawn on the stage. */
export type StageQuestion = Omit<Schemas['StageRequest'], 'number' | 'after'>;

/** A picture that somebody has drawn, so that the next one need only say what has changed. */
export interface Drawn {
  by: Way;
  number: number;
}

/** A rectangle of a picture. */
export interface Region {
  x: number;
  y: number;
  pixels: ImageData;
}

/** What has changed on a picture. */
export interface StagePicture {
  drawn: Drawn;
  width: number;
  height: number;
  regions: Region[];
}

let given = 0;
let ended = 0;

/** Draws the stage: all of it, or what is other than on the picture that is there. */
export async function drawStage(
  question: StageQuestion,
  there: Drawn | null,
  signal: AbortSignal,
): Promise<StagePicture> {
  given += 1;
  const [by, number] = [wayOf('/api/stage'), given];
  const after = there?.by === by ? there.number : undefined;
  const begun = performance.now();
  const asked = { ...question, number, after };
  const bytes = await sendForStage(by, asked, signal);
  const now = performance.now();
  // The first picture of a view, and one after a rest, take longer than those that follow a hand.
  if (after !== undefined && begun - ended < FOLLOWS) noteDrawn(by, now - begun);
  ended = now;
  enlist();
  return { drawn: { by, number }, ...pictureOf(bytes) };
}

/** Ms between pictures that follow a hand. */
const FOLLOWS = 200;

/** Width, height and the number of regions; x, y, width and height of each; then the pixels of each. */
function pictureOf(bytes: ArrayBuffer): Omit<StagePicture, 'drawn'> {
  const words = new DataView(bytes);
  const number = (at: number) => words.getUint32(at * 4, true);
  const [width, height, count] = [number(0), number(1), number(2)];
  const regions: Region[] = [];
  let from = 12 + 16 * count;
  for (let at = 0; at < count; at += 1) {
    const [x, y, across, down] = [0, 1, 2, 3].map((part) => number(3 + at * 4 + part)) as [
      number,
      number,
      number,
      number,
    ];
    const length = across * down * 4;
    regions.push({ x, y, pixels: new ImageData(new Uint8ClampedArray(bytes, from, length), across, down) });
    from += length;
  }
  return { width, height, regions };
}
