import type { Coat, Piece, Project, Scene, Schemas } from '../core/client';

type Finish = Schemas['Finish'];

interface Named {
  id: string;
  name: string;
}

/**
 * What was done between two documents, in a few words: the name of a step in the history. Immer keeps what did not change
 * the same object, so that differences are told by identity.
 */
export function nameOf(before: Project, after: Project): string {
  return (
    listChange(before.scenes, after.scenes, 'scene', sceneChange) ??
    listChange(before.finishes ?? [], after.finishes ?? [], 'finish', finishChange) ??
    listChange(before.lights ?? [], after.lights ?? [], 'light', keysChange) ??
    listChange(before.swatches ?? [], after.swatches ?? [], 'swatch', keysChange) ??
    listChange(before.themes, after.themes, 'theme', keysChange) ??
    (before.name === after.name ? 'Change' : `Name the project “${after.name}”`)
  );
}

function finishChange(before: Finish, after: Finish): string | null {
  const themes = Object.keys({ ...before.themes, ...after.themes });
  const inTheme = themes.map((theme) => {
    const [was, is] = [before.themes?.[theme], after.themes?.[theme]];
    if (is && was) return coatsChange(was, is, after.name);
    return is ? `Own coats for a theme in “${after.name}”` : `“${after.name}” alike in every theme`;
  });
  return (
    coatsChange(before.coats, after.coats, after.name) ?? inTheme.find(Boolean) ?? keysChange(before, after)
  );
}

function sceneChange(before: Scene, after: Scene): string | null {
  return listChange(before.pieces, after.pieces, 'piece', pieceChange) ?? keysChange(before, after);
}

function pieceChange(before: Piece, after: Piece): string | null {
  if (before.wear !== after.wear) {
    if ('coats' in before.wear && 'coats' in after.wear) {
      const change = coatsChange(before.wear.coats, after.wear.coats, after.name);
      if (change) return change;
    }
    return `“${after.name}”: what it wears`;
  }
  if (before.x !== after.x || before.y !== after.y) {
    return before.shape === after.shape ? `Move “${after.name}”` : `Resize “${after.name}”`;
  }
  return keysChange(before, after);
}

function coatsChange(before: Coat[], after: Coat[], where: string): string | null {
  return listChange(before, after, `coat of “${where}”`, keysChange);
}

/** What differs between two lists of things with ids; null when nothing does. */
function listChange<T extends Named>(
  before: T[],
  after: T[],
  what: string,
  inside: (before: T, after: T) => string | null,
): string | null {
  if (before === after) return null;
  const old = new Map(before.map((thing) => [thing.id, thing]));
  const added = after.filter((thing) => !old.has(thing.id));
  const left = new Set(after.map((thing) => thing.id));
  const removed = before.filter((thing) => !left.has(thing.id));
  const [first, gone] = [added[0], removed[0]];
  if (first && gone) return `Replace ${what}s`;
  if (first) return added.length === 1 ? `Add “${first.name}”` : `Add ${added.length} ${what}s`;
  if (gone) return removed.length === 1 ? `Remove “${gone.name}”` : `Remove ${removed.length} ${what}s`;
  const changed = after.filter((thing) => old.get(thing.id) !== thing);
  const [only] = changed;
  if (!only) return `Reorder ${what}s`;
  if (changed.length > 1) return `Change ${changed.length} ${what}s`;
  const was = old.get(only.id);
  return (was && inside(was, only)) ?? `Change “${only.name}”`;
}

/** Which values of a thing differ. */
function keysChange<T extends Named>(before: T, after: T): string | null {
  const values = [before, after] as [Record<string, unknown>, Record<string, unknown>] & [T, T];
  const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
  const changed = [...keys].filter((key) => values[0][key] !== values[1][key]);
  if (changed.length === 0) return null;
  if (changed[0] === 'name') return `Rename “${after.name}”`;
  if (changed[0] === 'on') return `“${after.name}” ${values[1].on ? 'on' : 'off'}`;
  return `“${after.name}”: ${changed.map((key) => key.replaceAll('_', ' ')).join(', ')}`;
}
