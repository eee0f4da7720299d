/** What the page says to its worker. */
export type ToWorker =
  /** With the megabytes that pictures are kept in. */
  | { kind: 'start'; core: WebAssembly.Module; cache: number }
  | { kind: 'ask'; id: number; path: string; body: string }
  /** Nobody waits for the answer any more. */
  | { kind: 'cancel'; id: number };

/** What the worker says to its page. */
export type FromWorker =
  | { kind: 'ready' }
  | { kind: 'answer'; id: number; status: number; bytes: ArrayBuffer }
  /** It cannot go on. */
  | { kind: 'broken'; reason: string };
