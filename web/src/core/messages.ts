/** A picture that a worker paints by itself: on which canvas, and what it is called when the next one follows it. */
export interface PaintTarget {
  leaf: number;
  number: number;
}

/** What the page says to its worker. */
export type ToWorker =
  /** With the megabytes that pictures are kept in. */
  | { kind: 'start'; core: WebAssembly.Module; cache: number }
  /** With `onto`, the answer is painted instead of sent. */
  | { kind: 'ask'; id: number; path: string; body: string; onto?: PaintTarget }
  /** Nobody waits for the answer any more. */
  | { kind: 'cancel'; id: number }
  /** A canvas to paint on, until it is let go of. */
  | { kind: 'leaf'; leaf: number; canvas: OffscreenCanvas }
  | { kind: 'letGo'; leaf: number };

/** A picture that the worker has painted. */
export interface Painted {
  width: number;
  height: number;
  /** When it was on the canvas, in ms since 1970. */
  at: number;
}

/** What the worker says to its page. */
export type FromWorker =
  | { kind: 'ready' }
  /** A question is being answered from now on; nothing else is heard until it is. */
  | { kind: 'begun'; id: number }
  | { kind: 'answer'; id: number; status: number; bytes: ArrayBuffer }
  /** Files it needs did not come. */
  | { kind: 'unloaded'; id: number }
  | { kind: 'painted'; id: number; painted: Painted }
  /** It cannot go on. */
  | { kind: 'broken'; reason: string };
