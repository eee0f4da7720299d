import createClient from 'openapi-fetch';
import { create } from 'zustand';
import { words } from '../messages';
import type { components, paths } from './schema';
import { textOf } from './text';

export type Schemas = components['schemas'];
export type Project = Schemas['Project'];
export type Scene = Schemas['Scene'];
export type Piece = Schemas['Piece'];
export type Coat = Schemas['Coat'];
/** Coats of one kind. */
export type CoatOf<K extends Coat['kind']> = Extract<Coat, { kind: K }>;
export type ShadowCoat = Extract<Coat, { kind: 'drop' | 'inner' }>;
export type Report = Schemas['Report'];
export type Problem = Schemas['ProblemDocument'];

/** What this page calls itself, so that several behind one address get a turn each when the service is busy. */
export const editor = { 'Zolvet-Editor': Math.random().toString(36).slice(2, 12) };

/** Ms for which an answer is waited for; a connection that hangs is no different from one that is cut. */
export const PATIENCE = 120_000;

/** Ms for which a computation or a large body is waited for, at most. */
export const LONG_PATIENCE = 600_000;

/** Ms after which a service that did not answer is asked again. */
export const AGAIN = 3_000;

/** The service did not answer, or not to the end. */
export class Unreachable extends Error {
  constructor(said = words.core.theServiceDoesNotAnswer) {
    super(said);
  }
}

/** Fetches, for as long as there is reason to wait. */
export async function fetchInTime(
  request: Request | string,
  init?: RequestInit,
  patience = PATIENCE,
): Promise<Response> {
  const limit = AbortSignal.timeout(patience);
  const given = init?.signal ?? (request instanceof Request ? request.signal : null);
  try {
    return await fetch(request, { ...init, signal: given ? AbortSignal.any([given, limit]) : limit });
  } catch (error) {
    // What nobody waits for any more is no failure.
    throw given?.aborted ? error : new Unreachable();
  }
}

export const api = createClient<paths>({
  fetch: (request) => fetchInTime(request),
  baseUrl: window.location.origin,
  headers: editor,
  bodySerializer: textOf,
});

/** Whether the service wants the owner's key before it answers. */
export const useAccess = create<{ keyNeeded: boolean }>()(() => ({ keyNeeded: false }));

api.use({
  onResponse({ request, response }) {
    // A wrong key is told where it is typed.
    const opens = new URL(request.url).pathname === '/api/session';
    if (response.status === 401 && !opens) useAccess.setState({ keyNeeded: true });
  },
});

/** All of a list that comes in parts. */
export async function everyPart<T>(
  part: (from: number) => Promise<{ data?: T[]; error?: unknown; response: Response }>,
): Promise<T[]> {
  const all: T[] = [];
  for (;;) {
    const result = await part(all.length);
    const entries = answer(result);
    all.push(...entries);
    const total = Number(result.response.headers.get('X-Total') ?? 0);
    if (entries.length === 0 || all.length >= total) return all;
  }
}

/** What came back, or an error that says what happened. */
export function answer<T>(result: { data?: T; error?: unknown; response: Response }): T {
  if (result.response.ok && result.error === undefined) return result.data as T;
  throw new ApiFailure(result.response.status, result.error as Problem | undefined);
}

export class ApiFailure extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | undefined,
    said = problem?.detail ?? words.core.theServiceAnswered(status),
  ) {
    super(said);
  }
}
