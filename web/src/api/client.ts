import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type Project = Schemas['Project'];
export type Scene = Schemas['Scene'];
export type Piece = Schemas['Piece'];
export type Coat = Schemas['Coat'];
export type ShadowCoat = Extract<Coat, { kind: 'drop' | 'inner' }>;
export type Report = Schemas['Report'];
export type Problem = Schemas['ProblemDocument'];

export const api = createClient<paths>({ baseUrl: window.location.origin });

/** What came back, or an error that says what happened. */
export function answer<T>(result: { data?: T; error?: unknown; response: Response }): T {
  if (result.response.ok && result.error === undefined) return result.data as T;
  throw new ApiFailure(result.response.status, result.error as Problem | undefined);
}

export class ApiFailure extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | undefined,
  ) {
    super(problem?.detail ?? `The service answered ${status}.`);
  }
}
