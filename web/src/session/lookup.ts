import type { Coat, Piece, Project, Scene, Schemas } from '../core/client';
import type { DocumentState, PieceState } from './state';
import { pathTo } from './tree';

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
  return 'parts' in shape ? [...own, ...shape.parts.flatMap(wornBy)] : own;
}

/** A piece of a scene, in a group or not. */
export function pieceOf(scene: Scene | undefined, id: string | null): Piece | undefined {
  return pathTo(scene?.pieces ?? [], id).at(-1);
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
export function keeperOf(document: Project, piece: Piece) {
  const { wear } = piece;
  if ('coats' in wear) return piece;
  return document.finishes?.find((finish) => finish.id === wear.finish);
}

/** Whether a piece has coats for any state. */
export function hasStates(document: Project, piece: Piece): boolean {
  return Object.keys(keeperOf(document, piece)?.states ?? {}).length > 0;
}

/** The control that a piece follows: the nearest around it, or itself. One with states that lies in none is one by itself. */
export function controlOf(document: Project, scene: Scene | undefined, id: string | null): Piece | undefined {
  const path = pathTo(scene?.pieces ?? [], id);
  const piece = path.at(-1);
  return path.findLast((other) => other.control) ?? (piece && hasStates(document, piece) ? piece : undefined);
}

/** The state in which pictures show a piece. */
export function shownState(scene: Scene | undefined, id: string | null): PieceState {
  const path = pathTo(scene?.pieces ?? [], id);
  return path.reduce<PieceState>((around, piece) => piece.shows ?? (piece.control ? 'rest' : around), 'rest');
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
