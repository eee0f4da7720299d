import type { Project } from '../core/client';

/** The field a reference stands in. */
export type ReferenceField = 'swatch' | 'follows';

/** Uses by field and id, of parts of the document: a part that did not change is not walked through again. */
const counted = new WeakMap<object, Map<string, number>>();

/** How often a swatch or light is used in finishes, grounds and pieces. */
export function usesOf(document: Project, field: ReferenceField, id: string): number {
  let uses = 0;
  for (const finish of document.finishes ?? []) uses += usesIn(finish, field, id);
  for (const scene of document.scenes) {
    uses += usesIn(scene.ground, field, id);
    for (const piece of scene.pieces) uses += usesIn(piece, field, id);
  }
  return uses;
}

/** The same, within one part of the document. */
export function usesIn(part: object, field: ReferenceField, id: string): number {
  const key = `${field} ${id}`;
  const known = counted.get(part) ?? new Map<string, number>();
  counted.set(part, known);
  const uses = known.get(key) ?? count(part, field, id);
  known.set(key, uses);
  return uses;
}

function count(part: object, field: ReferenceField, id: string): number {
  let uses = 0;
  for (const [name, value] of Object.entries(part)) {
    if (name === field && value === id) uses += 1;
    else if (typeof value === 'object' && value !== null) uses += count(value, field, id);
  }
  return uses;
}
