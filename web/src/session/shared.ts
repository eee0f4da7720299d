import type { Project, Schemas } from '../core/client';
import { words } from '../messages';
import { newId } from './newId';
import { edit } from './store';

type Light = Schemas['Light'];
type Swatch = Schemas['Swatch'];

/** Adds a swatch that has a colour in every theme; gives its id. */
export function addSwatch(name: string, colour: string): string {
  const id = newId();
  edit((draft) => {
    const values = Object.fromEntries(draft.themes.map((theme) => [theme.id, colour]));
    draft.swatches = [...(draft.swatches ?? []), { id, name, values }];
  });
  return id;
}

export function editSwatch(id: string, change: (swatch: Swatch) => void, gesture = true) {
  edit((draft) => {
    const swatch = draft.swatches?.find((other) => other.id === id);
    if (swatch) change(swatch);
  }, gesture);
}

export function removeSwatch(id: string) {
  edit((draft) => {
    draft.swatches = draft.swatches?.filter((other) => other.id !== id);
  });
}

export function addLight() {
  edit((draft) => {
    const lights = draft.lights ?? [];
    const light = {
      id: newId(),
      name: words.session.light(lights.length + 1),
      bearing: 0,
      colour: '#ffffff',
      strength: 1,
    };
    draft.lights = [...lights, light];
  });
}

export function editLight(id: string, change: (light: Light) => void, gesture = true) {
  edit((draft) => {
    const light = draft.lights?.find((other) => other.id === id);
    if (light) change(light);
  }, gesture);
}

export function removeLight(id: string) {
  edit((draft) => {
    draft.lights = draft.lights?.filter((other) => other.id !== id);
  });
}

/** Where a light comes from in a theme. */
export function bearingIn(light: Light, theme: string): number {
  return light.themes?.[theme]?.bearing ?? light.bearing;
}

/** The lights with the bearings they have in a theme. */
export function lightsIn(document: Project, theme: string): { id: string; bearing: number }[] {
  return (document.lights ?? []).map((light) => ({ id: light.id, bearing: bearingIn(light, theme) }));
}

/** Turns a light in a theme: what differs there stays different. */
export function turnLight(id: string, theme: string, bearing: number) {
  editLight(id, (light) => {
    const own = light.themes?.[theme];
    if (own?.bearing === undefined || own.bearing === null) light.bearing = bearing;
    else own.bearing = bearing;
  });
}
