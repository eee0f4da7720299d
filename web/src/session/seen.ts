import { useShallow } from 'zustand/react/shallow';
import type { Piece, Project, Scene } from '../core/client';
import { controlOf, pieceOf, sceneOf, shownState } from './lookup';
import type { DocumentState } from './state';
import { useDocument } from './store';
import { partsOf } from './tree';

/** The open scene; the same object as long as nothing in it changes. */
export function useScene(): Scene | undefined {
  return useDocument((state) => sceneOf(state.document, state.scene));
}

/** The open scene without its pieces; the same object as long as nothing else of it changes. */
export function useBareScene(): Omit<Scene, 'pieces'> | undefined {
  return useDocument(
    useShallow(({ document, scene }) => {
      const open = sceneOf(document, scene);
      if (!open) return undefined;
      const { pieces: _, ...bare } = open;
      return bare;
    }),
  );
}

/** The theme of the open scene. */
export function useTheme(): string {
  return useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
}

/** The document as it is looked at: the chosen piece in the state that was chosen for it. */
export function useSeen(): Project | null {
  return useDocument(seenIn);
}

type Choice = Pick<DocumentState, 'document' | 'scene' | 'piece' | 'state'>;

/** The latest two: what the page shows, and what there is. */
let lastSeen: { of: Choice; seen: Project | null }[] = [];

/** The same object as long as nothing of it changes. */
export function seenIn({ document, scene, piece, state }: Choice): Project | null {
  const of = { document, scene, piece, state };
  const keys = ['document', 'scene', 'piece', 'state'] as const;
  const known = lastSeen.find((last) => keys.every((key) => last.of[key] === of[key]));
  if (known) return known.seen;
  const seen = inState(of);
  lastSeen = [...lastSeen.slice(-1), { of, seen }];
  return seen;
}

function inState({ document, scene, piece, state }: Choice): Project | null {
  const open = sceneOf(document, scene);
  const chosen = pieceOf(open, piece);
  if (!document || !chosen || shownState(open, piece) === state) return document;
  // The whole control is seen in that state.
  const follows = controlOf(document, open, piece) ?? chosen;
  const shows = state === 'rest' ? null : state;
  const put = (other: Piece): Piece => {
    if (other.id === follows.id) return { ...other, shows };
    if (other.shape.kind !== 'group') return other;
    const parts = other.shape.parts.map(put);
    const same = parts.every((part, at) => part === partsOf(other)[at]);
    return same ? other : { ...other, shape: { ...other.shape, parts } };
  };
  const scenes = document.scenes.map((other) =>
    other.id === scene ? { ...other, pieces: other.pieces.map(put) } : other,
  );
  return { ...document, scenes };
}
