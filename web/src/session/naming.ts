import type { Coat, Piece, Project, Scene, Schemas } from '../core/client';
import { words } from '../messages';

type Finish = Schemas['Finish'];
type Thing = keyof typeof words.session.things;

interface Named {
  id: string;
  name: string;
}

/** What was done in one step, for the history; and whether it took something away. */
export interface Deed {
  name: string;
  /** What was removed, as it is said afterwards. */
  removed?: string;
}

const { session } = words;

/** What was done between two documents. Immer keeps what did not change the same object: differences are told by identity. */
export function deedOf(before: Project, after: Project): Deed {
  return (
    listChange(before.scenes, after.scenes, 'scene', sceneChange) ??
    listChange(before.finishes ?? [], after.finishes ?? [], 'finish', finishChange) ??
    listChange(before.lights ?? [], after.lights ?? [], 'light', keysChange) ??
    listChange(before.swatches ?? [], after.swatches ?? [], 'swatch', keysChange) ??
    listChange(before.themes, after.themes, 'theme', keysChange) ?? { name: otherChange(before, after) }
  );
}

function otherChange(before: Project, after: Project): string {
  if (before.name !== after.name) return session.nameTheProject(after.name);
  if (before.scale !== after.scale) return session.changeTheScale;
  if (before.accepted !== after.accepted) return session.acceptOrReopen;
  return session.change;
}

function finishChange(before: Finish, after: Finish): Deed | null {
  const themes = Object.keys({ ...before.themes, ...after.themes });
  const inTheme = themes.map((theme) => {
    const [was, is] = [before.themes?.[theme], after.themes?.[theme]];
    if (is && was) return coatsChange(was, is);
    return { name: is ? session.ownCoatsForATheme(after.name) : session.sameInEveryTheme(after.name) };
  });
  return coatsChange(before.coats, after.coats) ?? inTheme.find(Boolean) ?? keysChange(before, after);
}

function sceneChange(before: Scene, after: Scene): Deed | null {
  return listChange(before.pieces, after.pieces, 'piece', pieceChange) ?? keysChange(before, after);
}

function pieceChange(before: Piece, after: Piece): Deed | null {
  if (before.wear !== after.wear) {
    const [was, is] = [before.wear, after.wear];
    const change = 'coats' in was && 'coats' in is ? coatsChange(was.coats, is.coats) : null;
    return change ?? { name: session.finishOfPiece(after.name) };
  }
  if (before.shape.kind === 'group' && after.shape.kind === 'group' && before.shape !== after.shape) {
    const inner = listChange(before.shape.parts, after.shape.parts, 'piece', pieceChange);
    if (inner && before.x === after.x && before.y === after.y) return inner;
  }
  if (before.x !== after.x || before.y !== after.y) {
    const { name } = after;
    return { name: before.shape === after.shape ? session.move(name) : session.resize(name) };
  }
  return keysChange(before, after);
}

function coatsChange(before: Coat[], after: Coat[]): Deed | null {
  return listChange(before, after, 'coat', keysChange);
}

/** What differs between two lists of things with ids; null when nothing does. */
function listChange<T extends Named>(
  before: T[],
  after: T[],
  thing: Thing,
  inside: (before: T, after: T) => Deed | null,
): Deed | null {
  if (before === after) return null;
  const old = new Map(before.map((one) => [one.id, one]));
  const added = after.filter((one) => !old.has(one.id));
  const left = new Set(after.map((one) => one.id));
  const removed = before.filter((one) => !left.has(one.id));
  if (added.length > 0 && removed.length > 0) return { name: session.replace(thing) };
  if (added.length > 0) return { name: session.add(listed(added, thing)) };
  if (removed.length > 0) {
    const what = listed(removed, thing);
    return { name: session.remove(what), removed: session.removed(what) };
  }
  const changed = after.filter((one) => old.get(one.id) !== one);
  const [only] = changed;
  if (!only) return { name: session.reorder(thing) };
  const was = old.get(only.id);
  const within = changed.length === 1 && was ? inside(was, only) : null;
  return within ?? { name: session.changeThings(listed(changed, thing)) };
}

/** One thing by its name, several by how many there are. */
function listed(things: Named[], thing: Thing): string {
  const [first] = things;
  return first && things.length === 1 ? session.quoted(first.name) : session.counted(things.length, thing);
}

/** Which values of a thing differ. */
function keysChange<T extends Named>(before: T, after: T): Deed | null {
  const values = [before, after] as [Record<string, unknown>, Record<string, unknown>] & [T, T];
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
  const changed = [...keys].filter((key) => values[0][key] !== values[1][key]);
  if (changed.length === 0) return null;
  if (changed[0] === 'name') return { name: session.rename(after.name) };
  if (changed[0] === 'on') return { name: session.switchCoat(after.name, Boolean(values[1].on)) };
  return { name: session.values(after.name, [...new Set(changed.map(said))].join(', ')) };
}

function said(key: string): string {
  return session.keys[key] ?? key.replaceAll('_', ' ');
}
