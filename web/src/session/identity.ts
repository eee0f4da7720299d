const numbers = new WeakMap<object, number>();
let last = 0;

/**
 * A number for a part of the document: the same as long as nothing in it changes, another afterwards. A key for what was
 * asked about it, without writing all of it out.
 */
export function identity(part: object | null | undefined): number {
  if (!part) return 0;
  const known = numbers.get(part);
  if (known) return known;
  last += 1;
  numbers.set(part, last);
  return last;
}
