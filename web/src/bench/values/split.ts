import type { Coat } from '../../core/client';
import { askCore } from '../../core/core';
import { editCoats } from '../../session/stacks';
import { commit, useDocument } from '../../session/store';

/** Puts the coats that a ramp or a height stands for in its place. They come from the core and draw the same. */
export async function split(coat: Coat) {
  const { document, scene, piece } = useDocument.getState();
  if (!document || !scene || !piece) return;
  const found = await askCore('/api/split', { project: document, scene, piece, coat: coat.id });
  commit();
  editCoats((coats) => {
    const at = coats.findIndex((other) => other.id === coat.id);
    if (at >= 0) coats.splice(at, 1, ...(found.coats as Coat[]));
  });
}
