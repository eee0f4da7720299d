/** A new id: 128 random bits. `crypto.randomUUID` is missing where a page comes over plain HTTP from another machine. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
