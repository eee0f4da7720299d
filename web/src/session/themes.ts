import type { Schemas } from '../core/client';
import { words } from '../messages';
import { freeName } from './names';
import { newId } from './newId';
import { edit } from './store';

type Theme = Schemas['Theme'];

/** Adds a theme that looks like another: its colours and lights are those of that one until they are changed. */
export function addTheme(like: string) {
  edit((draft) => {
    const model = draft.themes.find((theme) => theme.id === like) ?? draft.themes[0];
    if (!model) return;
    const id = newId();
    const name = freeName(words.session.newTheme, draft.themes);
    draft.themes.push({ id, name, scheme: model.scheme });
    for (const swatch of draft.swatches ?? []) copyWithin(swatch.values as Values<string>, model.id, id);
    for (const light of draft.lights ?? []) copyWithin(light.themes, model.id, id);
    for (const finish of draft.finishes ?? []) copyWithin(finish.themes, model.id, id);
  });
}

type Values<T> = Record<string, T>;

function copyWithin<T>(values: Values<T> | undefined, from: string, to: string) {
  const value = values?.[from];
  if (values && value !== undefined) values[to] = value;
}

export function editTheme(id: string, change: (theme: Theme) => void, gesture = false) {
  edit((draft) => {
    const theme = draft.themes.find((other) => other.id === id);
    if (theme) change(theme);
  }, gesture);
}

/** Removes a theme and what differs in it; scenes under it are shown under another. One theme always stays. */
export function removeTheme(id: string) {
  edit((draft) => {
    const [first] = draft.themes.filter((theme) => theme.id !== id);
    if (!first) return;
    draft.themes = draft.themes.filter((theme) => theme.id !== id);
    for (const scene of draft.scenes) if (scene.theme === id) scene.theme = first.id;
    for (const swatch of draft.swatches ?? []) delete (swatch.values as Values<string>)[id];
    for (const light of draft.lights ?? []) delete light.themes?.[id];
    for (const finish of draft.finishes ?? []) delete finish.themes?.[id];
  });
}
