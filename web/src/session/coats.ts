import type { Coat, Piece, Project, Schemas } from '../core/client';
import { percents, ranges } from '../core/constants';
import { words } from '../messages';
import { keepFocus } from '../page/keepFocus';
import { chosenPieces, openCoat } from './choice';
import { copyOf } from './copy';
import { layerOf, layers } from './layers';
import { pieceOf, sceneOf, stackOf } from './lookup';
import { copyName } from './names';
import { newId } from './newId';
import { editCoats, stackToChange } from './stacks';
import type { Target } from './state';
import { edit, useDocument } from './store';

/** The stacks of every chosen piece; one that several of them wear comes once. */
export function stacksOf(draft: Project): { stack: Coat[]; piece: Piece }[] {
  const { scene, state } = useDocument.getState();
  const found: { stack: Coat[]; piece: Piece }[] = [];
  for (const id of chosenPieces()) {
    const piece = pieceOf(sceneOf(draft, scene), id);
    const stack = stackToChange(draft, { scene, state }, piece);
    if (piece && stack && !found.some((other) => other.stack === stack)) found.push({ stack, piece });
  }
  return found;
}

/** Changes the stack of every chosen piece. */
export function editStacks(change: (coats: Coat[], piece: Piece) => void, gesture = false) {
  edit((draft) => {
    for (const { stack, piece } of stacksOf(draft)) change(stack, piece);
  }, gesture);
}

/** Changes a coat, and the coats of the same name and kind on the other chosen pieces. */
export function changeCoat(coat: Coat, to: Partial<Coat>, gesture = true) {
  const main = useDocument.getState().piece;
  editStacks((coats, piece) => {
    coats.forEach((mine, at) => {
      const same =
        piece.id === main ? mine.id === coat.id : mine.kind === coat.kind && mine.name === coat.name;
      if (same) coats[at] = { ...mine, ...to } as Coat;
    });
  }, gesture);
}

/** Puts coats into a stack where their kind lies, above others that lie there. */
export function putIn(stack: Coat[], coats: Coat[]): string[] {
  return coats.toReversed().map((coat) => {
    const id = newId();
    const at = stack.findIndex((other) => layers.indexOf(layerOf(other)) >= layers.indexOf(layerOf(coat)));
    stack.splice(at < 0 ? stack.length : at, 0, { ...structuredClone(coat), id });
    return id;
  });
}

/** Adds a coat to the chosen piece and opens it. */
export function addCoat(coat: Coat) {
  let added: string | undefined;
  editCoats((stack) => {
    [added] = putIn(stack, [coat]);
  });
  openCoat(added ?? null);
}

export function duplicateCoat(id: string, name: string) {
  editCoats((coats) => {
    const at = coats.findIndex((other) => other.id === id);
    const coat = coats[at];
    if (coat) coats.splice(at, 0, { ...copyOf(coat), id: newId(), name: copyName(name) });
  });
}

/** Moves a coat past its neighbour in the same band, up or down. */
export function moveCoat(id: string, by: 1 | -1) {
  editCoats((coats) => {
    const at = coats.findIndex((other) => other.id === id);
    const coat = coats[at];
    if (!coat) return;
    const layer = layerOf(coat);
    const rest = by < 0 ? coats.slice(0, at).reverse() : coats.slice(at + 1);
    const steps = rest.findIndex((other) => layerOf(other) === layer);
    if (steps < 0) return;
    coats.splice(at, 1);
    coats.splice(at + by * (steps + 1), 0, coat);
  });
}

export function removeCoats(ids: string[]) {
  const { document, scene, piece, state } = useDocument.getState();
  const stack = stackOf({ document, scene, state }, pieceOf(sceneOf(document, scene), piece));
  const at = stack?.findIndex((coat) => ids.includes(coat.id)) ?? 0;
  keepFocus('[data-region=stack] article [aria-expanded]', at, '[data-region=stack] [aria-haspopup]');
  editCoats((coats) => {
    coats.splice(0, coats.length, ...coats.filter((coat) => !ids.includes(coat.id)));
  });
  useDocument.setState({ coat: null, ticked: [] });
}

/** Removes every coat of the chosen pieces. */
export function clearStack() {
  editStacks((coats) => {
    coats.length = 0;
  });
  useDocument.setState({ coat: null, ticked: [] });
}

/** Puts other coats in the place of a whole stack of one piece, for everybody who wears it. */
export function replaceStack(coats: Coat[], of: Target, gesture = false) {
  const put = (stack: Coat[]) => void stack.splice(0, stack.length, ...structuredClone(coats));
  editCoats(put, gesture, of);
}

/** Gives every chosen piece these coats: in a state in place of those it has there, at rest of its own. */
export function wearCoats(coats: Coat[]) {
  const { scene, state } = useDocument.getState();
  const fresh = () => coats.map((coat) => ({ ...structuredClone(coat), id: newId() }));
  edit((draft) => {
    if (state !== 'rest') {
      for (const { stack } of stacksOf(draft)) stack.splice(0, stack.length, ...fresh());
      return;
    }
    for (const id of chosenPieces()) {
      const piece = pieceOf(sceneOf(draft, scene), id);
      if (piece) piece.wear = { coats: fresh() };
    }
  });
  useDocument.setState({ coat: null, ticked: [] });
}

/** Numbers that can be changed in several coats at once. */
export const shared = {
  opacity: { label: words.common.opacity, unit: '%', range: percents(ranges.Opacity) },
  blur: { label: words.common.blur, unit: 'px', range: ranges.BlurRadius },
  spread: { label: words.common.spread, unit: 'px', range: ranges.Spread },
  distance: { label: words.common.distance, unit: 'px', range: ranges.OffsetPx },
  x: { label: 'x', unit: 'px', range: ranges.OffsetPx },
  y: { label: 'y', unit: 'px', range: ranges.OffsetPx },
} as const;

export type SharedValue = keyof typeof shared;
export type ChangeMode = 'set' | 'add' | 'multiply';

/** Sets, adds to or multiplies one value in every ticked coat that has it. */
export function changeTicked(value: SharedValue, how: ChangeMode, by: number) {
  const { ticked } = useDocument.getState();
  const [min, max] = shared[value].range;
  const next = (old: number) => {
    const wanted = how === 'set' ? by : how === 'add' ? old + by : old * by;
    return Math.min(max, Math.max(min, Number(wanted.toFixed(6))));
  };
  editCoats((coats) => {
    for (const coat of coats) {
      if (ticked.includes(coat.id)) changeOne(coat, value, next);
    }
  });
}

function changeOne(coat: Coat, value: SharedValue, next: (old: number) => number) {
  if (value === 'opacity') {
    coat.opacity = next((coat.opacity ?? 1) * 100) / 100;
  } else if (value === 'blur' || value === 'spread') {
    const holder = coat as Partial<Record<'blur' | 'spread', number>>;
    const old = holder[value];
    if (old !== undefined) holder[value] = next(old);
  } else if ('offset' in coat) {
    const offset = coat.offset as Partial<Record<'x' | 'y' | 'distance', number>>;
    const old = offset[value];
    if (old !== undefined) offset[value] = next(old);
  }
}

/**
 * Lets every coat of the stack that has an offset follow a light, as far away as it is now; or lets all go of theirs,
 * where they are. `both` are the offsets as the core resolved them, by coat.
 */
export function followAll(light: string | null, both: Map<string, Schemas['ResolvedOffset']>) {
  editCoats((coats) => {
    for (const coat of coats) {
      const at = both.get(coat.id);
      if (!('offset' in coat) || !at) continue;
      if (light) coat.offset = { distance: distanceOf(coat.offset, at), follows: light };
      else if ('follows' in coat.offset)
        coat.offset = { distance: coat.offset.distance, bearing: at.bearing };
    }
  });
}

/** The distance an offset has, or the core says it has. */
function distanceOf(offset: Schemas['Offset'], at: Schemas['ResolvedOffset']): number {
  return 'distance' in offset ? offset.distance : Number(at.distance.toFixed(2));
}
