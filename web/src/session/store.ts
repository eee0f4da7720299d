import { produce } from 'immer';
import { temporal } from 'zundo';
import { create, useStore } from 'zustand';
import type { Coat, Piece, Project, Scene } from '../core/client';
import { copyOf } from './copy';
import { nameOf } from './naming';

/** What is edited, and what is chosen in it. Only the document is undone. */
interface DocumentState {
  id: string;
  document: Project | null;
  /** What made the document what it is: the name of the step in the history. */
  did: string;
  scene: string | null;
  /** The piece whose stack is shown. */
  piece: string | null;
  /** Pieces chosen besides it. */
  also: string[];
  /** The coat that is open. */
  coat: string | null;
  /** Coats of the stack that are chosen together. */
  ticked: string[];
  /** The state the chosen piece is seen and changed in. */
  state: PieceState;
}

/** What somebody does with a piece. */
export const pieceStates = ['rest', 'hover', 'pressed', 'focus', 'disabled'] as const;

export type PieceState = (typeof pieceStates)[number];

const nothing = { piece: null, also: [], coat: null, ticked: [], state: 'rest' as PieceState };
const empty: DocumentState = { id: '', document: null, did: '', scene: null, ...nothing };

export const useDocument = create<DocumentState>()(
  temporal(() => empty, {
    partialize: (state) => ({ document: state.document, did: state.did }),
    equality: (past, current) => past.document === current.document,
    limit: 200,
  }),
);

const history = useDocument.temporal;

/** The names of the steps that can be undone, latest first. */
export function usePast(): string[] {
  const count = useStore(history, (state) => state.pastStates.length);
  const did = useDocument((state) => state.did);
  const past = history.getState().pastStates;
  // A state kept in the history carries the name of the step that led to it.
  return count === 0
    ? []
    : [
        did,
        ...past
          .slice(1)
          .map((state) => state.did ?? '')
          .reverse(),
      ];
}

/** The names of the steps that can be done again, next first. */
export function useFuture(): string[] {
  const states = useStore(history, (state) => state.futureStates);
  return states.map((state) => state.did ?? '').reverse();
}

export function undo(steps = 1) {
  rest();
  history.getState().undo(steps);
}

export function redo(steps = 1) {
  rest();
  history.getState().redo(steps);
}

/** Opens a document; what was undone before has nothing to do with it. */
export function open(id: string, document: Project) {
  const { scene, piece } = useDocument.getState();
  const current = document.scenes.find((other) => other.id === scene) ?? document.scenes[0];
  const chosen = current?.pieces.find((other) => other.id === piece);
  useDocument.setState({
    ...nothing,
    id,
    document,
    did: 'Open',
    scene: current?.id ?? null,
    piece: chosen?.id ?? null,
  });
  history.getState().clear();
}

/** Changes the document. Changes in one gesture are one step to undo; `rest` ends it. */
export function edit(change: (draft: Project) => void, gesture = false) {
  const { document, did } = useDocument.getState();
  if (!document) return;
  // What is not changed stays the same object, so that what shows it need not be drawn anew.
  const after = produce(document, (draft) => {
    change(draft);
  });
  if (after === document) return;
  // A gesture is named by how it began.
  const goesOn = !history.getState().isTracking;
  useDocument.setState({ document: after, did: goesOn ? did : nameOf(document, after) });
  if (gesture) history.getState().pause();
}

export function rest() {
  history.getState().resume();
}

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

export function sceneOf(document: Project | null, id: string | null): Scene | undefined {
  return document?.scenes.find((scene) => scene.id === id);
}

/** The document with one scene only: what a picture or report of that scene takes. */
export function onlyScene(document: Project, id: string): Project {
  return { ...document, scenes: document.scenes.filter((scene) => scene.id === id) };
}

/** The open scene; the same object as long as nothing in it changes. */
export function useScene(): Scene | undefined {
  return useDocument((state) => sceneOf(state.document, state.scene));
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

/** Where the stacks of a piece are kept: with it, or with the finish it wears. */
function keeperOf(document: Project, piece: Piece) {
  const { wear } = piece;
  if ('coats' in wear) return piece;
  return document.finishes?.find((finish) => finish.id === wear.finish);
}

/** The stack a piece has in a state; null when it looks as at rest there. */
export function stackIn(document: Project, piece: Piece, state: PieceState): Coat[] | null {
  if (state === 'rest') return coatsOf(document, piece);
  return keeperOf(document, piece)?.states?.[state] ?? null;
}

/** Gives a state of the chosen piece coats of its own, those it has at rest to start from; or takes them away. */
export function ownState(state: PieceState, own: boolean) {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    const keeper = chosen && keeperOf(draft, chosen);
    if (!chosen || !keeper || state === 'rest') return;
    const { [state]: _, ...others } = keeper.states ?? {};
    keeper.states = own ? { ...others, [state]: copyOf(coatsOf(draft, chosen)) } : others;
  });
}

/** The document as it is looked at: the chosen piece in the state that was chosen for it. */
export function useSeen(): Project | null {
  return useDocument(seenIn);
}

type Looked = Pick<DocumentState, 'document' | 'scene' | 'piece' | 'state'>;

let lastSeen: { of: Looked; seen: Project | null } | null = null;

/** The same object as long as nothing of it changes. */
export function seenIn({ document, scene, piece, state }: Looked): Project | null {
  const of = { document, scene, piece, state };
  const keys = ['document', 'scene', 'piece', 'state'] as const;
  if (lastSeen && keys.every((key) => lastSeen?.of[key] === of[key])) return lastSeen.seen;
  lastSeen = { of, seen: inState(of) };
  return lastSeen.seen;
}

function inState({ document, scene, piece, state }: Looked): Project | null {
  const chosen = pieceOf(sceneOf(document, scene), piece);
  const coats = document && chosen && stackIn(document, chosen, state);
  if (!document || !coats || state === 'rest') return document;
  const put = (other: Piece) => (other.id === piece ? { ...other, wear: { coats } } : other);
  const scenes = document.scenes.map((other) =>
    other.id === scene ? { ...other, pieces: other.pieces.map(put) } : other,
  );
  return { ...document, scenes };
}

/** Changes the stack of the chosen piece in its state, wherever it is kept. */
export function editCoats(change: (coats: Coat[], draft: Project) => void, gesture = false) {
  const { scene, piece, state } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    const coats = chosen && stackIn(draft, chosen, state);
    if (coats) change(coats, draft);
  }, gesture);
}

/** Gives the chosen piece a copy of the coats it wears. */
export function makeItsOwn() {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    if (!chosen) return;
    const { states } = keeperOf(draft, chosen) ?? {};
    chosen.wear = { coats: copyOf(coatsOf(draft, chosen)) };
    chosen.states = copyOf(states);
  });
}

export function newId(): string {
  return crypto.randomUUID();
}
