import type { paths } from './schema';

type Json<T> = T extends { content: { 'application/json': infer Value } } ? Value : never;

/** Whatever is asked of the core by posting JSON, with what it answers in JSON. */
type Posted<P> = P extends { post: { requestBody: infer Body; responses: { 200: infer Found } } }
  ? { question: Json<NonNullable<Body>>; answer: Json<Found> }
  : never;

/** The paths of questions. */
export type Path = {
  [P in keyof paths]: Posted<paths[P]> extends never ? never : P;
}[keyof paths];

export type QuestionOf<P extends Path> = Posted<paths[P]>['question'];
export type AnswerOf<P extends Path> = Posted<paths[P]>['answer'];

/** Questions that a worker answers as the service does. */
const inWorkers: ReadonlySet<string> = new Set([
  '/api/stage',
  '/api/thumbnails',
  '/api/starters',
  '/api/blends',
  '/api/finishes',
  '/api/finishes/steps',
  '/api/finishes/differences',
  '/api/export',
  '/api/faithful',
  '/api/faithful/project',
  '/api/drawing',
  '/api/audit/fewer',
  '/api/sights',
  '/api/solve/reduce',
  '/api/solve/draw',
  '/api/resolve',
  '/api/boxes',
  '/api/arrange',
  '/api/split',
  '/api/outline',
  '/api/css',
  '/api/colours',
  '/api/scene-code',
]);

export function isForWorkers(path: string): boolean {
  return inWorkers.has(path);
}
