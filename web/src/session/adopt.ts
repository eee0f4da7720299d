import type { Project, Schemas } from '../core/client';

/** What a part of a project refers to, so that it can come into another, or back into its own after that has changed. */
export interface Referred {
  swatches: Schemas['Swatch'][];
  lights: Schemas['Light'][];
  themes: Schemas['Theme'][];
  assets: Schemas['Asset'][];
}

export const nothingReferred: Referred = { swatches: [], lights: [], themes: [], assets: [] };

export function referredBy(part: unknown, document: Project): Referred {
  const [swatches, lights, assets] = [
    namesIn(part, 'swatch'),
    namesIn(part, 'follows'),
    namesIn(part, 'asset'),
  ];
  return {
    swatches: (document.swatches ?? []).filter(({ id }) => swatches.has(id)),
    lights: (document.lights ?? []).filter(({ id }) => lights.has(id)),
    themes: document.themes,
    assets: (document.assets ?? []).filter(({ id }) => assets.has(id)),
  };
}

/** The same with swatches, lights and files that a project has; what it lacks is added to it. */
export function adopted<T>(draft: Project, part: T, { swatches, lights, themes, assets }: Referred): T {
  const ids = new Map<string, string>();
  // Files lie with the service, under one id for all projects.
  const lacking = assets.filter(({ id }) => !draft.assets?.some((other) => other.id === id));
  if (lacking.length > 0) draft.assets = [...(draft.assets ?? []), ...lacking];
  for (const light of lights) {
    const known = draft.lights?.find(({ id, name }) => id === light.id || name === light.name);
    const { id } = known ?? light;
    if (!known) {
      const own = draft.themes.map((theme) => [theme.id, light.themes?.[themeLike(theme, themes)]]);
      const inThemes = Object.fromEntries(own.filter(([, differs]) => differs));
      draft.lights = [...(draft.lights ?? []), { ...light, themes: inThemes }];
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
    const { id } = known ?? swatch;
    if (!known) draft.swatches = [...(draft.swatches ?? []), { ...swatch, values }];
    ids.set(`swatch ${swatch.id}`, id);
  }
  return renamed(part, ids);
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

type Field = 'swatch' | 'follows' | 'asset';

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
