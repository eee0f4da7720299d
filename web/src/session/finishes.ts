import type { Piece, Project, Schemas } from '../core/client';
import { copyOf } from './copy';
import { newId } from './newId';
import { chosenPieces, coatsOf, edit, pieceOf, sceneOf, useDocument } from './store';

export type Finish = Schemas['Finish'];

/** A piece that wears a finish, and where it is. */
export interface Wearer {
  scene: string;
  sceneName: string;
  piece: string;
  pieceName: string;
}

export function finishOf(document: Project, id: string): Finish | undefined {
  return document.finishes?.find((finish) => finish.id === id);
}

export function wearers(document: Project, finish: string): Wearer[] {
  return document.scenes.flatMap((scene) =>
    scene.pieces
      .filter((piece) => 'finish' in piece.wear && piece.wear.finish === finish)
      .map((piece) => ({
        scene: scene.id,
        sceneName: scene.name,
        piece: piece.id,
        pieceName: piece.name,
      })),
  );
}

function freeName(document: Project, name: string): string {
  const taken = new Set(document.finishes?.map((finish) => finish.name));
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(tried)) return tried;
  }
}

/** Makes a finish of the stack of the chosen piece, which wears it from now on. */
export function saveAsFinish(name: string) {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const chosen = pieceOf(sceneOf(draft, scene), piece);
    if (!chosen) return;
    const id = newId();
    const finish: Finish = {
      id,
      name: freeName(draft, name.trim() || chosen.name),
      note: '',
      coats: copyOf(coatsOf(draft, chosen)),
      states: copyOf(chosen.states ?? {}),
    };
    draft.finishes = [...(draft.finishes ?? []), finish];
    chosen.wear = { finish: id };
    chosen.states = {};
  });
}

/** Every chosen piece wears a finish, in place of what it has. */
export function wearFinish(id: string) {
  const { scene } = useDocument.getState();
  edit((draft) => {
    for (const chosen of chosenPieces()) {
      const piece = pieceOf(sceneOf(draft, scene), chosen);
      if (piece) {
        piece.wear = { finish: id };
        piece.states = {};
      }
    }
  });
  useDocument.setState({ coat: null, ticked: [], state: 'rest' });
}

export function editFinish(id: string, change: (finish: Finish) => void, gesture = false) {
  edit((draft) => {
    const finish = finishOf(draft, id);
    if (finish) change(finish);
  }, gesture);
}

export function duplicateFinish(id: string) {
  edit((draft) => {
    const finish = finishOf(draft, id);
    if (!finish) return;
    const copy = { ...copyOf(finish), id: newId(), name: freeName(draft, finish.name) };
    draft.finishes?.splice(draft.finishes.indexOf(finish) + 1, 0, copy);
  });
}

/** Removes a finish; whoever wears it keeps its coats as its own. */
export function removeFinish(id: string) {
  edit((draft) => {
    const finish = finishOf(draft, id);
    if (!finish) return;
    const each = (piece: Piece) => {
      if ('finish' in piece.wear && piece.wear.finish === id) {
        piece.wear = { coats: copyOf(finish.coats) };
        piece.states = copyOf(finish.states ?? {});
      }
    };
    for (const scene of draft.scenes) scene.pieces.forEach(each);
    draft.finishes = draft.finishes?.filter((other) => other.id !== id);
    draft.scale = draft.scale?.filter((other) => other !== id);
  });
}

/** Puts a finish on top of the height scale, or takes it out. */
export function toggleInScale(id: string) {
  edit((draft) => {
    const scale = draft.scale ?? [];
    draft.scale = scale.includes(id) ? scale.filter((other) => other !== id) : [...scale, id];
  });
}

/** Moves a finish up (1) or down (-1) in the height scale. */
export function moveInScale(id: string, by: 1 | -1) {
  edit((draft) => {
    const { scale } = draft;
    const at = scale?.indexOf(id) ?? -1;
    if (!scale || at < 0 || at + by < 0 || at + by >= scale.length) return;
    scale.splice(at, 1);
    scale.splice(at + by, 0, id);
  });
}

/** Puts steps into the project, and into the height scale above a finish. */
export function addSteps(steps: Finish[], above: string) {
  edit((draft) => {
    const fresh = steps.map((step) => ({ ...step, id: newId(), name: freeName(draft, step.name) }));
    draft.finishes = [...(draft.finishes ?? []), ...fresh];
    const { scale } = draft;
    const at = scale?.indexOf(above) ?? -1;
    if (scale && at >= 0) scale.splice(at + 1, 0, ...fresh.map((step) => step.id));
  });
}

/** Puts what a file brings into the project, all of it in one step. */
export function bringIn(incoming: Schemas['Incoming']) {
  edit((draft) => {
    draft.swatches = [...(draft.swatches ?? []), ...incoming.swatches];
    draft.lights = [...(draft.lights ?? []), ...incoming.lights];
    draft.finishes = [...(draft.finishes ?? []), ...incoming.finishes];
  });
}
