import { dequal } from 'dequal';
import { freeze, produce } from 'immer';
import { useMemo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Coat, Piece, Project, Scene, Schemas } from '../core/client';
import { words } from '../messages';
import { copyOf } from './copy';
import { createDeferred } from './deferred';
import {
  type History,
  noHistory,
  type Place,
  redone,
  type Step,
  stepBetween,
  undone,
  withStep,
} from './history';
import { tooMuch, useRefusal } from './limits';
import { deedOf } from './naming';

/** What is edited, and what is chosen in it. Only the document is undone. */
export interface DocumentState extends History {
  id: string;
  document: Project | null;
  /** The gesture that is going on: the document before it, and where it was begun. */
  gesture: { before: Project; place: Place } | null;
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
const empty: DocumentState = {
  ...noHistory,
  id: '',
  document: null,
  gesture: null,
  scene: null,
  ...nothing,
};

export const useDocument = createDeferred(empty, ({ gesture }) => gesture !== null);

/** Changes the document: one step to undo, or, in a gesture, part of the step that its commit makes. */
export function edit(change: (draft: Project) => void, asGesture = false) {
  const inGesture = asGesture || isTogether;
  if (!inGesture) commit();
  const { document, gesture, scene, piece } = useDocument.getState();
  if (!document) return;
  // What is not changed stays the same object, so that what shows it need not be drawn anew.
  const after = produce(document, (draft) => {
    change(draft);
  });
  if (after === document) return;
  // What the service would refuse is not begun.
  const said = tooMuch(document, after);
  if (useRefusal.getState().said !== said) useRefusal.setState({ said });
  if (said) return;
  const place = { scene, piece };
  if (inGesture) useDocument.setState({ document: after, gesture: gesture ?? { before: document, place } });
  else {
    const step = stepBetween(document, after, place);
    useDocument.setState((now) => ({ document: after, ...withStep(now, step), ...coatsLeft(after, now) }));
  }
}

/**
 * The document as it was when the gesture that is going on began: for menus and the like, which nobody uses meanwhile, so that they
 * do not take the time of what follows the hand.
 */
export function calmIn({ gesture, document }: DocumentState): Project | null {
  return gesture?.before ?? document;
}

/** Counts what ends a gesture from outside. */
let turns = 0;

/** Begins a gesture; gives what tells whether it goes on, or was undone or given up in the meantime. */
export function begin(): () => boolean {
  commit();
  const { document, scene, piece } = useDocument.getState();
  if (document) useDocument.setState({ gesture: { before: document, place: { scene, piece } } });
  const turn = turns;
  return () => turns === turn;
}

let isTogether = false;

/** Whatever is changed by this is one step to undo. */
export function together(change: () => void) {
  begin();
  isTogether = true;
  try {
    change();
  } finally {
    isTogether = false;
    commit();
  }
}

/** Ends the gesture that is going on: all of it is one step to undo. */
export function commit() {
  if (isTogether) return;
  const { document, gesture } = useDocument.getState();
  if (!gesture || !document) return;
  const { before, place } = gesture;
  if (dequal(before, document)) useDocument.setState({ document: before, gesture: null });
  else
    useDocument.setState((now) => ({
      gesture: null,
      ...withStep(now, stepBetween(before, document, place)),
    }));
}

/** Gives the gesture up: the document is what it was before. */
export function cancel() {
  const { gesture } = useDocument.getState();
  turns += 1;
  if (gesture) useDocument.setState({ document: gesture.before, gesture: null });
}

/** The names of the steps that can be undone, latest first. */
export function usePast(): string[] {
  const past = useDocument((state) => state.past);
  const going = useDocument(({ gesture, document }) =>
    gesture && document && gesture.before !== document ? deedOf(gesture.before, document).name : null,
  );
  return useMemo(() => {
    const names = past.map((step) => step.name).reverse();
    return going === null ? names : [going, ...names];
  }, [past, going]);
}

/** The names of the steps that can be done again, next first. */
export function useFuture(): string[] {
  const future = useDocument((state) => state.future);
  return useMemo(() => future.map((step) => step.name).reverse(), [future]);
}

export function undo(steps = 1) {
  commit();
  turn(undone(useDocument.getState(), steps), (step) => step.before);
}

/** What undoes the last step, as long as it is the last. */
export function undoerOfLast(): () => void {
  const step = useDocument.getState().past.at(-1);
  return () => {
    if (step && useDocument.getState().past.at(-1) === step) undo();
  };
}

export function redo(steps = 1) {
  commit();
  turn(redone(useDocument.getState(), steps), (step) => step.after);
}

function turn([history, step]: [History, Step | undefined], of: (step: Step) => Project) {
  if (!step) return;
  turns += 1;
  const before = useDocument.getState();
  const document = of(step);
  useDocument.setState({ document, ...history, ...chosenIn(document, before, step.place) });
}

/** What stays chosen in another document; a change in another scene is shown there. */
function chosenIn(document: Project, now: DocumentState, place: Place) {
  const same = sceneOf(now.document, now.scene) === sceneOf(document, now.scene);
  const there = sceneOf(document, place.scene);
  const moved = there && there.id !== now.scene && same && there !== sceneOf(now.document, there.id);
  const scene = (moved ? there : sceneOf(document, now.scene)) ?? there ?? document.scenes[0];
  const piece = pieceOf(scene, now.piece) ?? pieceOf(scene, place.piece);
  const chosen = { ...now, scene: scene?.id ?? null, piece: piece?.id ?? null };
  return {
    scene: chosen.scene,
    piece: chosen.piece,
    also: now.also.filter((id) => id !== piece?.id && pieceOf(scene, id)),
    ...coatsLeft(document, chosen),
  };
}

/** The open coat and the ticked ones, as far as the chosen piece of a document has them. */
function coatsLeft(document: Project, { scene, piece, state, coat, ticked }: DocumentState) {
  const stack = stackOf({ document, scene, state }, pieceOf(sceneOf(document, scene), piece));
  const kept = (id: string | null) => stack?.some((other) => other.id === id) ?? false;
  return { coat: kept(coat) ? coat : null, ticked: ticked.every(kept) ? ticked : ticked.filter(kept) };
}

/** Opens a document; what was done before has nothing to do with it. */
export function open(id: string, document: Project) {
  turns += 1;
  const { scene, piece } = useDocument.getState();
  const current = document.scenes.find((other) => other.id === scene) ?? document.scenes[0];
  const chosen = current?.pieces.find((other) => other.id === piece);
  freeze(document, true);
  useDocument.setState({
    ...empty,
    id,
    document,
    scene: current?.id ?? null,
    piece: chosen?.id ?? null,
  });
}

/** Nothing is open any more. */
export function shut() {
  turns += 1;
  useDocument.setState(empty);
}

/** Shows another version of the open document; one step to undo. */
export function showAnother(document: Project) {
  commit();
  turns += 1;
  const now = useDocument.getState();
  if (!now.document || now.document === document) return;
  freeze(document, true);
  const place = { scene: now.scene, piece: now.piece };
  const step = { ...stepBetween(now.document, document, place), name: words.session.anotherVersion };
  useDocument.setState({ document, ...withStep(now, step), ...chosenIn(document, now, place) });
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

export function sceneOf(document: Project | null, id: string | null): Scene | undefined {
  return document?.scenes.find((scene) => scene.id === id);
}

/** The document with one scene only, and the finishes worn there: what a picture or report of that scene takes. */
export function onlyScene(document: Project, id: string): Project {
  return onlyScenes(
    document,
    document.scenes.filter((scene) => scene.id === id),
  );
}

/** The document with these scenes in place of its own, and the finishes worn in them. */
export function onlyScenes(document: Project, scenes: Scene[]): Project {
  const worn = new Set(scenes.flatMap((scene) => scene.pieces.flatMap(wornBy)));
  const finishes = document.finishes?.filter((finish) => worn.has(finish.id));
  return { ...document, scenes, finishes, scale: [] };
}

/** The ids of the finishes that a piece and its parts wear. */
export function wornBy({ wear, shape }: Piece): string[] {
  const own = 'coats' in wear ? [] : [wear.finish];
  return shape.kind === 'join' ? [...own, ...shape.parts.flatMap(wornBy)] : own;
}

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

export function pieceOf(scene: Scene | undefined, id: string | null): Piece | undefined {
  return scene?.pieces.find((piece) => piece.id === id);
}

/** The piece whose stack is shown. */
export function chosenPiece({ document, scene, piece }: DocumentState): Piece | undefined {
  return pieceOf(sceneOf(document, scene), piece);
}

/** The stack a piece has under a theme: its own, or that of the finish it wears. */
export function coatsOf(document: Project, piece: Piece, theme: string | undefined): Coat[] {
  const { wear } = piece;
  if ('coats' in wear) return wear.coats;
  const finish = document.finishes?.find((other) => other.id === wear.finish);
  return finish ? coatsIn(finish, theme) : [];
}

/** The coats a finish has at rest under a theme. */
export function coatsIn(finish: Schemas['Finish'], theme: string | undefined): Coat[] {
  return finish.themes?.[theme ?? ''] ?? finish.coats;
}

/** Where the stacks of a piece are kept: with it, or with the finish it wears. */
function keeperOf(document: Project, piece: Piece) {
  const { wear } = piece;
  if ('coats' in wear) return piece;
  return document.finishes?.find((finish) => finish.id === wear.finish);
}

/** The stack a piece has in a state under a theme; null when it looks as at rest there. */
export function stackIn(
  document: Project,
  piece: Piece,
  state: PieceState,
  theme: string | undefined,
): Coat[] | null {
  if (state === 'rest') return coatsOf(document, piece, theme);
  return keeperOf(document, piece)?.states?.[state] ?? null;
}

/** The stack a piece of the open scene has, in the state that is looked at or in another. */
export function stackOf(
  { document, scene, state }: Pick<DocumentState, 'document' | 'scene' | 'state'>,
  piece: Piece | undefined,
  of = state,
): Coat[] | null {
  return document && piece ? stackIn(document, piece, of, sceneOf(document, scene)?.theme) : null;
}

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

/** The document as it is looked at: the chosen piece in the state that was chosen for it. */
export function useSeen(): Project | null {
  return useDocument(seenIn);
}

type Looked = Pick<DocumentState, 'document' | 'scene' | 'piece' | 'state'>;

/** The latest two: what the page shows, and what there is. */
let lastSeen: { of: Looked; seen: Project | null }[] = [];

/** The same object as long as nothing of it changes. */
export function seenIn({ document, scene, piece, state }: Looked): Project | null {
  const of = { document, scene, piece, state };
  const keys = ['document', 'scene', 'piece', 'state'] as const;
  const known = lastSeen.find((last) => keys.every((key) => last.of[key] === of[key]));
  if (known) return known.seen;
  const seen = inState(of);
  lastSeen = [...lastSeen.slice(-1), { of, seen }];
  return seen;
}

function inState({ document, scene, piece, state }: Looked): Project | null {
  const chosen = pieceOf(sceneOf(document, scene), piece);
  const coats = stackOf({ document, scene, state }, chosen);
  if (!document || !coats || state === 'rest') return document;
  const put = (other: Piece) => (other.id === piece ? { ...other, wear: { coats } } : other);
  const scenes = document.scenes.map((other) =>
    other.id === scene ? { ...other, pieces: other.pieces.map(put) } : other,
  );
  return { ...document, scenes };
}

/** What is chosen: what an answer that comes later is meant for. */
export type Target = Pick<DocumentState, 'scene' | 'piece' | 'state'>;

export function target(): Target {
  const { scene, piece, state } = useDocument.getState();
  return { scene, piece, state };
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
