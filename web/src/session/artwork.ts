import { useMemo } from 'react';
import { applyPatch, type Operation } from 'rfc6902';
import { useAnswer } from '../core/answers';
import type { Piece, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { sceneOf } from './lookup';
import { useSeen } from './seen';
import { edit, useDocument } from './store';

/** The elements of a piece that is a drawing, highest first. */
export function useArtwork(piece: Piece): Schemas['Artwork'] | null {
  const project = useSeen();
  const scene = useDocument((state) => state.scene);
  const isThere = project && scene && piece.shape.kind === 'drawing';
  const shape = JSON.stringify(piece.shape);
  // A font that is brought may be one that was missing.
  const files = project?.assets?.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the elements change with the shape and the files alone
  const question = useMemo(
    () => (isThere ? { project, scene, piece: piece.id } : null),
    [Boolean(isThere), scene, piece.id, shape, files],
  );
  return useAnswer(question, (body) => askCore('/api/artwork', body), { pause: 0, atMost: 400 });
}

/** Takes an element out of a drawing, and chooses it. The picture stays the same. */
export async function takeOut(piece: string, element: number): Promise<void> {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!document || !scene || !current) return;
  const { patch, chosen } = await askCore('/api/artwork/take-out', {
    project: document,
    scene,
    piece,
    element,
  });
  // What changed in the meantime is not overwritten.
  if (sceneOf(useDocument.getState().document, scene) !== current) return takeOut(piece, element);
  edit((draft) => {
    const mine = sceneOf(draft, scene);
    if (mine) applyPatch(mine, structuredClone(patch) as Operation[]);
  });
  useDocument.setState({ piece: chosen[0] ?? null, also: [], coat: null, ticked: [] });
}

/** Takes the highest element at a place of a drawing's box out of it. */
export async function takeOutAt(piece: string, at: { x: number; y: number }): Promise<void> {
  const { document, scene } = useDocument.getState();
  if (!document || !scene) return;
  const { elements } = await askCore('/api/artwork', { project: document, scene, piece });
  const found = elements.find(({ place: [x = 0, y = 0, w = 0, h = 0] }) => {
    return at.x >= x && at.x <= x + w && at.y >= y && at.y <= y + h;
  });
  if (found && elements.length > 1) await takeOut(piece, found.number);
}
