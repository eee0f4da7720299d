import { applyPatch, type Operation } from 'rfc6902';
import type { Project } from '../core/client';

/**
 * A JSON Patch (RFC 6902) for one document, put to another that was made from it: entries of lists that have ids are
 * found by them, wherever they lie by now. Null when something it is about is no longer there.
 */
export function rebased(patch: Operation[], from: Project, to: Project): Project | null {
  const [before, after] = [structuredClone(from), structuredClone(to)];
  for (const operation of patch) {
    const path = translated(operation.path, before, after);
    if (path === null) return null;
    const failures = [
      ...applyPatch(before, [structuredClone(operation)]),
      ...applyPatch(after, [{ ...structuredClone(operation), path } as Operation]),
    ];
    if (failures.some((failure) => failure !== null)) return null;
  }
  return after;
}

/** A JSON Pointer (RFC 6901) into one document as a pointer into another. */
function translated(path: string, from: unknown, to: unknown): string | null {
  let [here, there] = [from, to];
  const tokens = path.split('/').slice(1);
  const found: string[] = [];
  for (const [depth, token] of tokens.entries()) {
    const key = token.replaceAll('~1', '/').replaceAll('~0', '~');
    const own = child(here, key);
    const place = placeOf(own, key, there);
    if (place === null) return null;
    found.push(place);
    const last = depth === tokens.length - 1;
    const next = child(there, place.replaceAll('~1', '/').replaceAll('~0', '~'));
    if (!last && next === undefined) return null;
    [here, there] = [own, next];
  }
  return found.map((token) => `/${token}`).join('');
}

function child(of: unknown, key: string): unknown {
  return typeof of === 'object' && of !== null ? (of as Record<string, unknown>)[key] : undefined;
}

/** Where an entry of a list lies in another; by its id where it has one. */
function placeOf(entry: unknown, key: string, list: unknown): string | null {
  const id = child(entry, 'id');
  if (!Array.isArray(list) || typeof id !== 'string') return key.replaceAll('~', '~0').replaceAll('/', '~1');
  const at = list.findIndex((other) => child(other, 'id') === id);
  return at < 0 ? null : String(at);
}
