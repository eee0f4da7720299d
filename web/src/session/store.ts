import { dequal } from 'dequal';
import { freeze, produce } from 'immer';
import { useMemo } from 'react';
import type { Project } from '../core/client';
import { words } from '../messages';
import { createDeferred } from './deferred';
import { type History, type Place, redone, type Step, stepBetween, undone, withStep } from './history';
import { tooMuch, useRefusal } from './limits';
import { pieceOf, sceneOf, stackOf } from './lookup';
import { deedOf } from './naming';
import { type DocumentState, empty } from './state';

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
  const chosen = pieceOf(current, piece);
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
