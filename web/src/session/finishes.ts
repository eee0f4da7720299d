import type { Coat, Piece, Project, Schemas } from '../core/client';
import { adopted, referredBy } from './adopt';
import { chosenPieces } from './choice';
import { copyOf } from './copy';
import { coatsIn, coatsOf, pieceOf, sceneOf, wornBy } from './lookup';
import { freeName } from './names';
import { newId } from './newId';
import { edit, useDocument } from './store';
import { withParts } from './tree';

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
    withParts(scene.pieces)
      .filter((piece) => ownWornBy(piece).includes(finish))
      .map((piece) => ({
        scene: scene.id,
        sceneName: scene.name,
        piece: piece.id,
        pieceName: piece.name,
      })),
  );
}

/** As [`wornBy`] without those of the parts of a group, which are pieces themselves. */
function ownWornBy(piece: Piece): string[] {
  return piece.shape.kind === 'group'
    ? wornBy({ ...piece, shape: { ...piece.shape, parts: [] } })
    : wornBy(piece);
}

/** Makes a finish of the stack of the chosen piece, which wears it from now on. */
export function saveAsFinish(name: string) {
  const { scene, piece } = useDocument.getState();
  edit((draft) => {
    const inScene = sceneOf(draft, scene);
    const chosen = pieceOf(inScene, piece);
    if (!chosen) return;
    const id = newId();
    const finish: Finish = {
      id,
      name: freeName(name.trim() || chosen.name, draft.finishes),
      note: '',
      coats: copyOf(coatsOf(draft, chosen, inScene?.theme)),
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
    const copy = { ...copyOf(finish), id: newId(), name: freeName(finish.name, draft.finishes) };
    draft.finishes?.splice(draft.finishes.indexOf(finish) + 1, 0, copy);
  });
}

/** Removes a finish; whoever wears it keeps its coats as its own. */
export function removeFinish(id: string) {
  edit((draft) => {
    const finish = finishOf(draft, id);
    if (!finish) return;
    for (const { scene, piece } of wearers(draft, id)) {
      const inScene = sceneOf(draft, scene);
      const wearing = pieceOf(inScene, piece);
      if (wearing) takeOff(wearing, finish, inScene?.theme);
    }
    draft.finishes = draft.finishes?.filter((other) => other.id !== id);
    draft.scale = draft.scale?.filter((other) => other !== id);
  });
}

/** A piece that wears a finish, or has parts that do, gets its coats as its own. */
function takeOff(piece: Piece, finish: Finish, theme: string | undefined) {
  if ('finish' in piece.wear && piece.wear.finish === finish.id) {
    piece.wear = { coats: copyOf(coatsIn(finish, theme)) };
    piece.states = copyOf(finish.states ?? {});
  }
  if ('parts' in piece.shape) for (const part of piece.shape.parts) takeOff(part, finish, theme);
}

/** Gives a finish coats of its own under a theme, those it has in the others to start from; or takes them away. */
export function ownInTheme(id: string, theme: string, own: boolean) {
  editFinish(id, (finish) => {
    const { [theme]: _, ...others } = finish.themes ?? {};
    finish.themes = own ? { ...others, [theme]: copyOf(finish.coats) } : others;
  });
}

/**
 * Puts a finish back as it was in another version of the project, with what it refers to; one that is gone comes back. What it
 * was under a theme that is gone does not.
 */
export function takeBackFinish(id: string, from: Project) {
  const was = finishOf(from, id);
  if (!was) return;
  edit((draft) => {
    const themes = Object.entries(was.themes ?? {}).filter(([theme]) =>
      draft.themes.some((other) => other.id === theme),
    );
    const kept = { ...copyOf(was), themes: copyOf(Object.fromEntries(themes)) };
    const back = adopted(draft, kept, referredBy(kept, from));
    const finishes = draft.finishes ?? [];
    const at = finishes.findIndex((finish) => finish.id === id);
    finishes.splice(at < 0 ? finishes.length : at, 1, back);
    draft.finishes = finishes;
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

/** Puts finishes for heights into the project, and on top of the height scale. */
export function addHeights(heights: { height: number; coats: Coat[] }[], nameOf: (height: number) => string) {
  edit((draft) => {
    for (const { height, coats } of heights) {
      const id = newId();
      const name = freeName(nameOf(height), draft.finishes);
      draft.finishes = [
        ...(draft.finishes ?? []),
        { id, name, note: '', coats: structuredClone(coats), states: {} },
      ];
      draft.scale = [...(draft.scale ?? []), id];
    }
  });
}

/** Puts steps into the project, and into the height scale above a finish. */
export function addSteps(steps: Finish[], above: string) {
  edit((draft) => {
    const fresh = steps.map((step) => ({ ...step, id: newId(), name: freeName(step.name, draft.finishes) }));
    draft.finishes = [...(draft.finishes ?? []), ...fresh];
    const { scale } = draft;
    const at = scale?.indexOf(above) ?? -1;
    if (scale && at >= 0) scale.splice(at + 1, 0, ...fresh.map((step) => step.id));
  });
}

/** Puts what a file brings into the project, all of it in one step. */
export function bringIn(incoming: Schemas['Incoming']) {
  edit((draft) => {
    const old = draft.swatches ?? [];
    for (const { id } of incoming.themes) {
      for (const swatch of old) swatch.values[id] ??= Object.values(swatch.values)[0] ?? '#000';
    }
    draft.themes = [...draft.themes, ...incoming.themes];
    draft.swatches = [...old, ...incoming.swatches];
    draft.lights = [...(draft.lights ?? []), ...incoming.lights];
    draft.finishes = [...(draft.finishes ?? []), ...incoming.finishes];
  });
}
