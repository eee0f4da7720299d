import { create } from 'zustand';
import type { Coat, Piece, Project } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';

/** What was not done because the document would have had too much of something, in words; null again after the next edit. */
export const useRefusal = create<{ said: string | null }>()(() => ({ said: null }));

/** Why a document may not become another, where it would be more than the service takes; only what changed is looked at. */
export function tooMuch(before: Project, after: Project): string | null {
  const known = new Set<unknown>([...before.scenes, ...(before.finishes ?? [])]);
  for (const scene of after.scenes) {
    if (known.has(scene)) continue;
    if (countOf(scene.pieces) > limits.pieces) return words.session.aSceneHasAtMost(limits.pieces);
    if (scene.pieces.some((piece) => ownStacks(piece).some(isTooLong))) return said;
  }
  for (const finish of after.finishes ?? []) {
    if (
      !known.has(finish) &&
      [finish.coats, ...inside(finish.themes), ...inside(finish.states)].some(isTooLong)
    )
      return said;
  }
  return tooLong(before, after);
}

const characters = {
  name: limits.nameCharacters,
  note: limits.noteCharacters,
  string: limits.textCharacters,
} as const;

/** A name, note or text of the document that has become too long. */
function tooLong(before: unknown, after: unknown): string | null {
  if (before === after || typeof after !== 'object' || after === null) return null;
  const was = (before ?? {}) as Record<string, unknown>;
  for (const [key, value] of Object.entries(after)) {
    const most = characters[key as keyof typeof characters];
    if (typeof value === 'string' && most !== undefined && value !== was[key] && [...value].length > most) {
      return words.session.tooLong(key === 'string' ? 'text' : key, most);
    }
    const inside = tooLong(was[key], value);
    if (inside) return inside;
  }
  return null;
}

const said = words.session.aStackHasAtMost(limits.coats);

function isTooLong(stack: Coat[]): boolean {
  return stack.length > limits.coats;
}

/** Pieces with those in groups. */
function countOf(pieces: Piece[]): number {
  return pieces.reduce((sum, { shape }) => sum + 1 + (shape.kind === 'group' ? countOf(shape.parts) : 0), 0);
}

function ownStacks(piece: Piece): Coat[][] {
  const states = inside(piece.states);
  const own = 'coats' in piece.wear ? [piece.wear.coats, ...states] : states;
  return 'parts' in piece.shape ? [...own, ...piece.shape.parts.flatMap(ownStacks)] : own;
}

function inside(stacks: Record<string, Coat[] | undefined> = {}): Coat[][] {
  return Object.values(stacks).filter((stack): stack is Coat[] => Array.isArray(stack));
}
