import { create } from 'zustand';
import type { Coat, Project, Schemas } from '../core/client';
import { putIn, stacksOf } from './coats';
import { newId } from './newId';
import { edit, pieceOf, sceneOf, stackOf, useDocument } from './store';

/** Coats that were copied, with what they refer to: they may be pasted into another project. */
interface Copied {
  coats: Coat[];
  swatches: Schemas['Swatch'][];
  lights: Schemas['Light'][];
  themes: Schemas['Theme'][];
}

export const useClipboard = create<Copied>()(() => ({ coats: [], swatches: [], lights: [], themes: [] }));

/** How copied coats begin as text. */
const MARK = 'zolvet coats ';
/** Where other tabs find what one has copied. */
const SHARED = 'zolvet clipboard';

/** Copies the coats that are ticked, else the open one, else the whole stack; or just that. */
export function copyCoats(all = false) {
  if (!take(all)) return;
  // Fires `copy`, which puts them on the clipboard of the system.
  taken = true;
  document.execCommand('copy');
  taken = false;
}

/** Whether what is copied was chosen by a command of the page, and not by the keys. */
let taken = false;

function take(all: boolean): boolean {
  const { document, scene, piece, coat, ticked, state } = useDocument.getState();
  const chosen = pieceOf(sceneOf(document, scene), piece);
  if (!document || !chosen) return false;
  const wanted = all ? null : ticked.length > 0 ? ticked : coat ? [coat] : null;
  const stack = stackOf({ document, scene, state }, chosen) ?? [];
  const coats = structuredClone(stack.filter((other) => !wanted || wanted.includes(other.id)));
  const [swatches, lights] = [namesIn(coats, 'swatch'), namesIn(coats, 'follows')];
  useClipboard.setState({
    coats,
    swatches: (document.swatches ?? []).filter(({ id }) => swatches.has(id)),
    lights: (document.lights ?? []).filter(({ id }) => lights.has(id)),
    themes: document.themes,
  });
  return coats.length > 0;
}

/** Puts copied coats on the system's clipboard; false when the event is meant for something else. */
export function onCopy(event: ClipboardEvent): boolean {
  // Text that is selected is what is copied.
  if (!taken && (String(window.getSelection()) !== '' || !take(false))) return false;
  const text = MARK + JSON.stringify(useClipboard.getState());
  event.clipboardData?.setData('text/plain', text);
  try {
    localStorage.setItem(SHARED, text);
  } catch {
    // Then other tabs do not know them.
  }
  return true;
}

/** Pastes what text on the clipboard stands for, where it stands for coats. */
export function pasteText(text: string): boolean {
  if (!text.startsWith(MARK)) return false;
  const own = MARK + JSON.stringify(useClipboard.getState());
  if (text !== own) {
    // Nothing but what a tab of ours has copied is taken for coats.
    if (text !== localStorage.getItem(SHARED)) return false;
    useClipboard.setState(JSON.parse(text.slice(MARK.length)));
  }
  pasteCoats();
  return true;
}

/** Puts the copied coats on every chosen piece, on top of what it has. */
export function pasteCoats() {
  const copied = useClipboard.getState();
  if (copied.coats.length === 0) return;
  edit((draft) => {
    const coats = adopted(draft, copied);
    for (const { stack } of stacksOf(draft)) putIn(stack, coats);
  });
}

/** The coats with swatches and lights that the project has; what it lacks is added to it. */
function adopted(draft: Project, { coats, swatches, lights, themes }: Copied): Coat[] {
  const ids = new Map<string, string>();
  for (const light of lights) {
    const known = draft.lights?.find(({ id, name }) => id === light.id || name === light.name);
    const id = known?.id ?? newId();
    if (!known) {
      const own = draft.themes.map((theme) => [theme.id, light.themes?.[themeLike(theme, themes)]]);
      const inThemes = Object.fromEntries(own.filter(([, differs]) => differs));
      draft.lights = [...(draft.lights ?? []), { ...light, id, themes: inThemes }];
    }
    ids.set(`follows ${light.id}`, id);
  }
  for (const swatch of swatches) {
    const values = Object.fromEntries(
      draft.themes.map((theme) => [theme.id, valueFor(theme, swatch, themes)]),
    );
    const known = draft.swatches?.find(
      ({ id, name, values: own }) =>
        id === swatch.id || (name === swatch.name && JSON.stringify(own) === JSON.stringify(values)),
    );
    const id = known?.id ?? newId();
    if (!known) draft.swatches = [...(draft.swatches ?? []), { ...swatch, id, values }];
    ids.set(`swatch ${swatch.id}`, id);
  }
  return renamed(coats, ids);
}

/** The value of a swatch of another project under a theme. */
function valueFor(theme: Theme, swatch: Schemas['Swatch'], themes: Theme[]): string {
  const values = swatch.values as Record<string, string>;
  return values[themeLike(theme, themes)] ?? Object.values(values)[0] ?? '#808080';
}

type Theme = Schemas['Theme'];

/** The id of the theme of another project that is most like one. */
function themeLike(theme: Theme, themes: Theme[]): string {
  const like =
    themes.find(({ id }) => id === theme.id) ??
    themes.find(({ name }) => name === theme.name) ??
    themes.find(({ scheme }) => scheme === theme.scheme);
  return like?.id ?? '';
}

type Field = 'swatch' | 'follows';

/** The ids that a part of a document names in a field. */
function namesIn(part: unknown, field: Field, found = new Set<string>()): Set<string> {
  if (typeof part !== 'object' || part === null) return found;
  for (const [name, value] of Object.entries(part)) {
    if (name === field && typeof value === 'string') found.add(value);
    else namesIn(value, field, found);
  }
  return found;
}

/** The same with other names for swatches and lights. */
function renamed<T>(part: T, ids: Map<string, string>): T {
  if (Array.isArray(part)) return part.map((entry) => renamed(entry, ids)) as T;
  if (typeof part !== 'object' || part === null) return part;
  const entries = Object.entries(part).map(([name, value]) => [
    name,
    typeof value === 'string' ? (ids.get(`${name} ${value}`) ?? value) : renamed(value, ids),
  ]);
  return Object.fromEntries(entries);
}
