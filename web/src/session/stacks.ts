import type { Coat, Piece, Project } from '../core/client';
import { target } from './choice';
import { copyOf } from './copy';
import { coatsOf, keeperOf, pieceOf, sceneOf, stackIn } from './lookup';
import type { DocumentState, PieceState } from './state';
import { edit, useDocument } from './store';

/** The stack of a piece in the state that is looked at, to be changed: a state that has none gets those at rest. */
export function stackToChange(
  draft: Project,
  { scene, state }: Pick<DocumentState, 'scene' | 'state'>,
  piece: Piece | undefined,
): Coat[] | null {
  const keeper = piece && keeperOf(draft, piece);
  if (!piece || !keeper) return null;
  const theme = sceneOf(draft, scene)?.theme;
  if (state !== 'rest' && !keeper.states?.[state]) {
    keeper.states = { ...keeper.states, [state]: copyOf(coatsOf(draft, piece, theme)) };
  }
  return stackIn(draft, piece, state, theme);
}

/** Gives a state of the chosen piece coats of its own, those it has at rest to start from; or takes them away. */
export function ownState(state: PieceState, own: boolean) {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const inScene = sceneOf(draft, scene);
    const chosen = pieceOf(inScene, piece);
    const keeper = chosen && keeperOf(draft, chosen);
    if (!chosen || !keeper || state === 'rest') return;
    const { [state]: _, ...others } = keeper.states ?? {};
    const atRest = coatsOf(draft, chosen, inScene?.theme);
    keeper.states = own ? { ...others, [state]: copyOf(atRest) } : others;
  });
}

/** Changes the stack of a piece in a state, wherever it is kept: of the chosen one when nothing else is said. */
export function editCoats(
  change: (coats: Coat[], draft: Project) => void,
  gesture = false,
  { scene, piece, state } = target(),
) {
  edit((draft) => {
    const coats = stackToChange(draft, { scene, state }, pieceOf(sceneOf(draft, scene), piece));
    if (coats) change(coats, draft);
  }, gesture);
}

/** Gives the chosen piece a copy of the coats it wears. */
export function makeItsOwn() {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const inScene = sceneOf(draft, scene);
    const chosen = pieceOf(inScene, piece);
    if (!chosen) return;
    const { states } = keeperOf(draft, chosen) ?? {};
    chosen.wear = { coats: copyOf(coatsOf(draft, chosen, inScene?.theme)) };
    chosen.states = copyOf(states);
  });
}
