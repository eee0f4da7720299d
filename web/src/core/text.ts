/** The JSON of what does not change any more, such as the pieces and finishes of a document. */
const texts = new WeakMap<object, string>();

/** A question as JSON. What was sent with an earlier question, and has not changed, is not written out again. */
export function textOf(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) return `[${value.map(entryOf).join(',')}]`;
  const said = Object.entries(value).filter(([, part]) => part !== undefined);
  return `{${said.map(([name, part]) => `${JSON.stringify(name)}:${textOf(part)}`).join(',')}}`;
}

/** One entry of a list. The store freezes what it keeps, so that the same object is the same text. */
function entryOf(entry: unknown): string {
  if (typeof entry !== 'object' || entry === null || !Object.isFrozen(entry) || 'pieces' in entry) {
    return textOf(entry);
  }
  const known = texts.get(entry) ?? JSON.stringify(entry);
  texts.set(entry, known);
  return known;
}
