import { create } from 'zustand';
import type { Coat, Piece, Project } from '../core/client';
import { limits } from '../core/constants';

/** What was not done because the document would have had too much of something, in words; null again after the next edit. */
export const useRefusal = create<{ said: string | null }>()(() => ({ said: null }));

/** Why a document may not become another, where it would be more than the service takes; only what changed is looked at. */
export function tooMuch(before: Project, after: Project): string | null {
  const known = new Set<unknown>([...before.scenes, ...(before.finishes ?? [])]);
  for (const scene of after.scenes) {
    if (known.has(scene)) continue;
    if (scene.pieces.length > limits.pieces) return `A scene has at most ${limits.pieces} pieces.`;
    if (scene.pieces.some((piece) => ownStacks(piece).some(isTooLong))) return said;
  }
  for (const finish of after.finishes ?? []) {
    if (!known.has(finish) && [finish.coats, ...statesOf(finish)].some(isTooLong)) return said;
  }
  return null;
}

const said = `A stack has at most ${limits.coats} coats.`;

function isTooLong(stack: Coat[]): boolean {
  return stack.length > limits.coats;
}

function ownStacks(piece: Piece): Coat[][] {
  return 'coats' in piece.wear ? [piece.wear.coats, ...statesOf(piece)] : statesOf(piece);
}

function statesOf({ states }: { states?: Piece['states'] }): Coat[][] {
  return Object.values(states ?? {}).filter((stack): stack is Coat[] => Array.isArray(stack));
}
