import { queries } from './constants';
import type { paths } from './schema';

type Json<T> = T extends { content: { 'application/json': infer Value } } ? Value : never;

/** Whatever is asked of the core by posting JSON, with what it answers in JSON. */
type Posted<P> = P extends { post: { requestBody: infer Body; responses: { 200: infer Found } } }
  ? { question: Json<NonNullable<Body>>; answer: Json<Found> }
  : never;

/** The paths of queries. */
export type Path = {
  [P in keyof paths]: Posted<paths[P]> extends never ? never : P;
}[keyof paths];

export type RequestOf<P extends Path> = Posted<paths[P]>['question'];
export type AnswerOf<P extends Path> = Posted<paths[P]>['answer'];

/** Queries that a worker answers as the service does. */
const inWorkers: ReadonlySet<string> = new Set(queries);

export function isForWorkers(path: string): boolean {
  return inWorkers.has(path);
}
