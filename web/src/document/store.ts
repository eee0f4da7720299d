import { temporal } from 'zundo';
import { create, useStore } from 'zustand';
import type { Coat, Piece, Project, Scene } from '../api/client';

/** What is edited, and what is chosen in it. Only the document is undone. */
interface DocumentState {
  id: string;
  document: Project | null;
  scene: string | null;
  piece: string | null;
  coat: string | null;
}

const empty: DocumentState = { id: '', document: null, scene: null, piece: null, coat: null };

export const useDocument = create<DocumentState>()(
  temporal(() => empty, {
    partialize: (state) => ({ document: state.document }),
    equality: (past, current) => past.document === current.document,
    limit: 200,
  }),
);

const history = useDocument.temporal;

export function usePast() {
  return useStore(history, (state) => state.pastStates.length);
}

export function useFuture() {
  return useStore(history, (state) => state.futureStates.length);
}

export function undo() {
  rest();
  history.getState().undo();
}

export function redo() {
  rest();
  history.getState().redo();
}

/** Opens a document; what was undone before has nothing to do with it. */
export function open(id: string, document: Project) {
  const { scene, piece } = useDocument.getState();
  const current = document.scenes.find((other) => other.id === scene) ?? document.scenes[0];
  const chosen = current?.pieces.find((other) => other.id === piece);
  useDocument.setState({ id, document, scene: current?.id ?? null, piece: chosen?.id ?? null, coat: null });
  history.getState().clear();
}

/** Changes the document. Changes in one gesture are one step to undo; `rest` ends it. */
export function edit(change: (draft: Project) => void, gesture = false) {
  const { document } = useDocument.getState();
  if (!document) return;
  const draft = structuredClone(document);
  change(draft);
  useDocument.setState({ document: draft });
  if (gesture) history.getState().pause();
}

export function rest() {
  history.getState().resume();
}

export function choosePiece(piece: string | null) {
  if (useDocument.getState().piece !== piece) useDocument.setState({ piece, coat: null });
}

export function chooseScene(scene: string) {
  useDocument.setState({ scene, piece: null, coat: null });
}

export function openCoat(coat: string | null) {
  useDocument.setState({ coat });
}

export function sceneOf(document: Project | null, id: string | null): Scene | undefined {
  return document?.scenes.find((scene) => scene.id === id);
}

/** The document with one scene only: what a picture or report of that scene takes. */
export function onlyScene(document: Project, id: string): Project {
  return { ...document, scenes: document.scenes.filter((scene) => scene.id === id) };
}

export function pieceOf(scene: Scene | undefined, id: string | null): Piece | undefined {
  return scene?.pieces.find((piece) => piece.id === id);
}

/** The stack a piece has: its own, or that of the finish it wears. */
export function coatsOf(document: Project, piece: Piece): Coat[] {
  const { wear } = piece;
  if ('coats' in wear) return wear.coats;
  return document.finishes?.find((finish) => finish.id === wear.finish)?.coats ?? [];
}

/** Changes the stack of the chosen piece, wherever it is kept. */
export function editCoats(change: (coats: Coat[], draft: Project) => void, gesture = false) {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    if (chosen) change(coatsOf(draft, chosen), draft);
  }, gesture);
}

/** Gives the chosen piece a copy of the coats it wears. */
export function makeItsOwn() {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    if (chosen) chosen.wear = { coats: structuredClone(coatsOf(draft, chosen)) };
  });
}

/** How many pieces of all scenes wear a finish. */
export function wearersOf(document: Project, finish: string): number {
  const worn = (piece: Piece) => 'finish' in piece.wear && piece.wear.finish === finish;
  return document.scenes.reduce((count, scene) => count + scene.pieces.filter(worn).length, 0);
}

export function newId(): string {
  return crypto.randomUUID();
}
