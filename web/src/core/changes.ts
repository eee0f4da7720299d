/** An operation of a JSON Patch (RFC 6902). */
export type Change = { op: 'add' | 'replace'; path: string; value: unknown } | { op: 'remove'; path: string };

/** What makes one version of a document into another. What is the same object is not looked into. */
export function changesBetween(before: unknown, after: unknown): Change[] {
  const changes: Change[] = [];
  compare(before, after, '', changes);
  return changes;
}

function compare(before: unknown, after: unknown, path: string, changes: Change[]) {
  if (before === after) return;
  if (Array.isArray(before) && Array.isArray(after)) compareLists(before, after, path, changes);
  else if (isObject(before) && isObject(after)) compareObjects(before, after, path, changes);
  else changes.push({ op: 'replace', path, value: after });
}

function compareObjects(
  before: Record<string, unknown>,
  after: Record<string, unknown>,
  path: string,
  changes: Change[],
) {
  for (const [key, value] of Object.entries(before)) {
    if (value === undefined) continue;
    if (after[key] === undefined) changes.push({ op: 'remove', path: under(path, key) });
    else compare(value, after[key], under(path, key), changes);
  }
  for (const [key, value] of Object.entries(after)) {
    if (value !== undefined && before[key] === undefined) {
      changes.push({ op: 'add', path: under(path, key), value });
    }
  }
}

/** Entries that were added or taken away are told from those that changed by what is the same around them. */
function compareLists(before: unknown[], after: unknown[], path: string, changes: Change[]) {
  if (before.length === after.length) {
    before.forEach((value, at) => {
      compare(value, after[at], `${path}/${at}`, changes);
    });
    return;
  }
  const shorter = Math.min(before.length, after.length);
  let first = 0;
  while (first < shorter && before[first] === after[first]) first += 1;
  let last = 0;
  while (last < shorter - first && before.at(-1 - last) === after.at(-1 - last)) last += 1;
  for (let at = before.length - last - 1; at >= first; at -= 1) {
    changes.push({ op: 'remove', path: `${path}/${at}` });
  }
  for (let at = first; at < after.length - last; at += 1) {
    changes.push({ op: 'add', path: `${path}/${at}`, value: after[at] });
  }
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** The pointer of a field (RFC 6901). */
function under(path: string, key: string): string {
  return `${path}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;
}
