import type { Piece } from '../core/client';
import { pieceOf, sceneOf, shownState } from './lookup';
import { type DocumentState, nothing, type Target } from './state';
import { useDocument } from './store';
import { groupOf, partsOf } from './tree';

export function choosePiece(piece: string | null) {
  const now = useDocument.getState();
  if (now.piece !== piece || now.also.length > 0) useDocument.setState({ ...chosenAlone(now, piece) });
}

/** A piece by itself, in the state it is shown in. */
function chosenAlone({ document, scene }: DocumentState, piece: string | null) {
  return { ...nothing, piece, state: shownState(sceneOf(document, scene), piece) };
}

/** Goes into a chosen group: to the part at a place, or to its lowest. */
export function goInside(part?: string) {
  const group = chosenPiece(useDocument.getState());
  const inner = part ?? (group && partsOf(group)[0]?.id);
  if (inner) choosePiece(inner);
}

/** Goes out to the group around the chosen piece; false where there is none. */
export function goOutside(): boolean {
  const { document, scene, piece } = useDocument.getState();
  const group = groupOf(sceneOf(document, scene), piece);
  if (group) choosePiece(group.id);
  return group !== undefined;
}

/** Chooses a piece besides those that are chosen, or lets go of it. */
export function chooseAlso(id: string) {
  const { piece, also } = useDocument.getState();
  if (!piece) choosePiece(id);
  else if (piece === id) {
    const [next = null, ...others] = also;
    useDocument.setState({ ...chosenAlone(useDocument.getState(), next), also: others });
  } else {
    useDocument.setState({
      also: also.includes(id) ? also.filter((other) => other !== id) : [...also, id],
    });
  }
}

/** Chooses these pieces and no others; the stack of the first is shown. */
export function choosePieces([chosen, ...also]: string[]) {
  const first = chosen ?? null;
  const now = useDocument.getState();
  if (now.piece !== first) useDocument.setState({ ...chosenAlone(now, first), also });
  else useDocument.setState({ also });
}

/** Every piece that is chosen, the one whose stack is shown first. */
export function useChosenPieces(): string[] {
  const piece = useDocument((state) => state.piece);
  const also = useDocument((state) => state.also);
  return piece ? [piece, ...also] : [];
}

export function chosenPieces(): string[] {
  const { piece, also } = useDocument.getState();
  return piece ? [piece, ...also] : [];
}

export function chooseScene(scene: string) {
  useDocument.setState({ ...nothing, scene });
}

export function openCoat(coat: string | null) {
  useDocument.setState({ coat });
}

/** Ticks a coat, to be changed together with others. */
export function tickCoat(coat: string) {
  const { ticked } = useDocument.getState();
  useDocument.setState({
    ticked: ticked.includes(coat) ? ticked.filter((other) => other !== coat) : [...ticked, coat],
  });
}

/** The piece whose stack is shown. */
export function chosenPiece({ document, scene, piece }: DocumentState): Piece | undefined {
  return pieceOf(sceneOf(document, scene), piece);
}

export function target(): Target {
  const { scene, piece, state } = useDocument.getState();
  return { scene, piece, state };
}
