import type { Piece } from '../core/client';
import { pieceOf, sceneOf } from './lookup';
import { type DocumentState, nothing, type Target } from './state';
import { useDocument } from './store';

export function choosePiece(piece: string | null) {
  const now = useDocument.getState();
  if (now.piece !== piece || now.also.length > 0) useDocument.setState({ ...nothing, piece });
}

/** Chooses a piece besides those that are chosen, or lets go of it. */
export function chooseAlso(id: string) {
  const { piece, also } = useDocument.getState();
  if (!piece) choosePiece(id);
  else if (piece === id) {
    const [next = null, ...others] = also;
    useDocument.setState({ ...nothing, piece: next, also: others });
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
  if (now.piece !== first) useDocument.setState({ ...nothing, piece: first, also });
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
