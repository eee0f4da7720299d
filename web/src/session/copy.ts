import { current, isDraft } from 'immer';

/** A copy that shares nothing with what it was taken from, which may be a draft. */
export function copyOf<T>(value: T): T {
  return structuredClone(isDraft(value) ? (current(value as object) as T) : value);
}
