import { applyPatch, type Operation } from 'rfc6902';
import type { Schemas } from '../core/client';
import { askCore } from '../core/core';
import { chosenPieces } from './choice';
import { sceneOf } from './lookup';
import { edit, useDocument } from './store';

/** Changes that put new pieces in the place of the chosen ones. */
const replacing: ReadonlySet<string> = new Set(['join', 'take_apart', 'group', 'separate']);

/** Aligns, distributes, joins or groups the chosen pieces, or takes one apart. The core says what changes. */
export async function arrange(how: Schemas['Arrangement'], pieces = chosenPieces()): Promise<void> {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!document || !scene || !current) return;
  const body = { project: document, scene, pieces, how };
  const { patch, chosen } = await askCore('/api/arrange', body);
  // What changed in the meantime is not overwritten.
  if (sceneOf(useDocument.getState().document, scene) !== current) return arrange(how, pieces);
  edit((draft) => {
    const mine = sceneOf(draft, scene);
    if (mine) applyPatch(mine, structuredClone(patch) as Operation[]);
  });
  if (replacing.has(how.kind)) {
    const [first, ...others] = chosen;
    useDocument.setState({ piece: first ?? null, also: others, coat: null, ticked: [] });
  }
}
