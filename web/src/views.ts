import { later } from './parts/later';

const check = later(async () => (await import('./check/CheckView')).CheckView);
const finishes = later(async () => (await import('./finishes/FinishesView')).FinishesView);
const icons = later(async () => (await import('./icons/IconsView')).IconsView);
const page = later(async () => (await import('./pages/PageView')).PageView);
const handOff = later(async () => (await import('./handoff/HandOffView')).HandOffView);

export const CheckView = check.View;
export const FinishesView = finishes.View;
export const IconsView = icons.View;
export const PageView = page.View;
export const HandOffView = handOff.View;

/** Loads the views that nobody has opened yet, once the page rests: then they are there at once, also without the service. */
export function viewsAhead() {
  const rests = window.requestIdleCallback ?? ((load: () => void) => window.setTimeout(load, 500));
  rests(() => {
    for (const view of [check, finishes, icons, page, handOff]) view.ahead();
  });
}
