import type { Operation } from 'rfc6902';
import type { Coat, CoatOf, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { takePatch } from './checks';
import { wearCoats } from './coats';
import { pieceOf, sceneOf } from './lookup';
import { newId } from './newId';
import { commit, edit, useDocument } from './store';

type Rig = Schemas['Rig'];

/** A shared light with what its shadows are made by. */
export interface CastingLight {
  id: string;
  rig: Rig;
}

/** Gives a light its rig, and all heights that follow it the shadows that it casts then; with what is being edited, one step to
 * undo. */
export async function castHeights({ id, rig }: CastingLight) {
  const { document } = useDocument.getState();
  if (!document) return;
  try {
    const { patch } = await askCore('/api/solve/relight', { project: document, light: id, rig });
    takePatch(patch as Operation[], document, true);
  } finally {
    // What was edited is a step of its own where no answer came.
    commit();
  }
}

/** Gives the chosen piece the shadows of a height: in the place of those it has, else instead of its stack. */
export function raisePiece(coat: Coat, light: CastingLight | null) {
  const { scene, piece, state } = useDocument.getState();
  if (state !== 'rest') return wearCoats([coat]);
  edit((draft) => {
    const mine = piece ? pieceOf(sceneOf(draft, scene), piece) : undefined;
    if (!mine) return;
    const fresh = { ...structuredClone(coat), id: newId() };
    const own = 'coats' in mine.wear ? mine.wear.coats : [];
    const at = own.findIndex((other) => other.kind === 'raised');
    if (at >= 0) own.splice(at, 1, fresh);
    else mine.wear = { coats: [fresh] };
    const followed = draft.lights?.find((other) => other.id === light?.id);
    if (followed && light) followed.rig = light.rig;
  });
}

/** The height of a stack, where it has one. */
export function heightIn(stack: Coat[] | null): CoatOf<'raised'> | undefined {
  return stack?.find((coat): coat is CoatOf<'raised'> => coat.kind === 'raised');
}
