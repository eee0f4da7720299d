import { type HotkeyItem, useHotkeys, useWindowEvent } from '@mantine/hooks';
import type { Piece } from '../core/client';
import { sayFailure } from '../page/toast';
import { isTyped } from '../parts/interaction';
import { arrange } from '../session/arrange';
import { choosePiece, choosePieces, chosenPieces, goInside, goOutside, openCoat } from '../session/choice';
import { removeCoats } from '../session/coats';
import { useSingleKeys } from '../session/keys';
import { pieceOf, sceneOf } from '../session/lookup';
import { duplicatePiece, editPieces, removePieces } from '../session/pieces';
import { commit, useDocument } from '../session/store';
import { listOf } from '../session/tree';
import { useView, zoomBy } from '../session/view';

interface Held {
  onBefore: (held: boolean) => void;
  onOnly: (coat: string | null) => void;
  onSheet: () => void;
}

/** What keys do while no field, menu or handle has them for itself. */
export function useKeys({ onBefore, onOnly, onSheet }: Held) {
  useHotkeys(
    [
      free('mod+D', duplicate),
      free('mod+A', chooseAll),
      free('shift+?', onSheet),
      free('B', () => onBefore(true)),
      free('O', () => onOnly(useDocument.getState().coat)),
      free('[plus]', () => zoomBy(1)),
      free('shift+[plus]', () => zoomBy(1)),
      free('-', () => zoomBy(-1)),
      free('0', () => useView.setState({ zoom: 0 })),
      free('G', () => regroup('group')),
      free('shift+G', () => regroup('separate')),
      free('[', () => step(-1)),
      free(']', () => step(1)),
      free('Escape', close),
      free('Enter', enter),
      free('Delete', remove),
      free('Backspace', remove),
      ...nudges,
    ],
    [],
  );
  useWindowEvent('keyup', (event) => {
    if (event.key.toLowerCase() === 'b') onBefore(false);
    if (event.key.toLowerCase() === 'o') onOnly(null);
    // As long as an arrow is held it is one step to undo.
    if (event.key.startsWith('Arrow')) commit();
  });
  // A key that is let go in another window is not heard of here.
  useWindowEvent('blur', () => {
    onBefore(false);
    onOnly(null);
  });
}

/** Groups what is chosen, or takes the chosen group apart, where that can be done. */
function regroup(kind: 'group' | 'separate') {
  const { document, scene } = useDocument.getState();
  const chosen = chosenPieces();
  const piece = pieceOf(sceneOf(document, scene), chosen[0] ?? null);
  const can = kind === 'group' ? chosen.length > 1 : chosen.length === 1 && piece?.shape.kind === 'group';
  if (!can) return false;
  arrange({ kind }).catch((error: Error) => sayFailure(error.message));
  return true;
}

/** Whether a menu or dialog was open, or a row in a hand, when the key was pressed: what Escape closes is gone before the key is heard here. */
let open = false;

window.addEventListener(
  'keydown',
  () => {
    open = document.querySelector('[role=menu], [role=dialog], [data-dragged]') !== null;
  },
  true,
);

/**
 * A key that does something unless a handle has taken it, or something is open, which has Escape and the arrows for
 * itself. An action that answers false leaves the key to the browser.
 */
function free(keys: string, action: (event: KeyboardEvent) => unknown): HotkeyItem {
  const act = (event: KeyboardEvent) => {
    if (open || event.defaultPrevented || takes(event)) return;
    const alone = event.key.length === 1 && !event.ctrlKey && !event.metaKey;
    if (alone && !useSingleKeys.getState().on) return;
    if (action(event) !== false) event.preventDefault();
  };
  return [keys, act, { preventDefault: false }];
}

/** Whether a field has the key for itself. */
function takes({ target, key, ctrlKey, metaKey }: KeyboardEvent): boolean {
  if (isTyped(target)) return true;
  if (target instanceof HTMLSelectElement) return !(ctrlKey || metaKey);
  const stepped = target instanceof HTMLInputElement && ['range', 'radio'].includes(target.type);
  return stepped && (key.startsWith('Arrow') || key === '+' || key === '-');
}

/** Every piece that is seen; on a slider or switch the keys are about that. */
function chooseAll({ target }: KeyboardEvent) {
  if (target instanceof HTMLInputElement) return false;
  const { document, scene, piece } = useDocument.getState();
  const shown = listOf(sceneOf(document, scene), piece).filter((other) => !other.hidden);
  choosePieces(shown.map((piece) => piece.id));
  return true;
}

function duplicate() {
  const { document, scene, piece } = useDocument.getState();
  const chosen = pieceOf(sceneOf(document, scene), piece);
  if (chosen) duplicatePiece(chosen);
}

function close() {
  const { document, scene, piece, coat } = useDocument.getState();
  const chosen = pieceOf(sceneOf(document, scene), piece);
  if (coat) openCoat(null);
  else if (chosen?.shape.kind === 'drawing' && useView.getState().elements) {
    useView.setState({ elements: false, element: null });
  } else if (!goOutside()) choosePiece(null);
}

/** Goes into the chosen group or drawing; what has a use for Enter keeps it. */
function enter({ target }: KeyboardEvent) {
  const { document, scene, piece } = useDocument.getState();
  const chosen = pieceOf(sceneOf(document, scene), piece);
  const onControl = (target as Element).closest('button, a, [role=slider], [role=radio]');
  if (onControl || !chosen) return false;
  if (chosen.shape.kind === 'drawing') {
    useView.setState({ elements: true });
    return true;
  }
  if (chosen.shape.kind !== 'group') return false;
  goInside();
  return true;
}

function remove() {
  const { coat, ticked } = useDocument.getState();
  if (ticked.length > 0) removeCoats(ticked);
  else if (coat) removeCoats([coat]);
  else removePieces(chosenPieces());
}

/** Chooses the next or last piece of the list it is in. */
function step(by: 1 | -1) {
  const { document, scene, piece } = useDocument.getState();
  const pieces = listOf(sceneOf(document, scene), piece);
  const at = pieces.findIndex((other) => other.id === piece);
  const next = pieces[(at + by + pieces.length) % pieces.length];
  if (next) choosePiece(next.id);
}

const arrows: [string, number, number][] = [
  ['ArrowLeft', -1, 0],
  ['ArrowRight', 1, 0],
  ['ArrowUp', 0, -1],
  ['ArrowDown', 0, 1],
];

const lengths: [string, number][] = [
  ['', 1],
  ['shift+', 10],
  ['alt+', 0.1],
];

/** Arrows move the chosen pieces by 1 px, with Shift by 10, with Alt by a tenth. */
const nudges = arrows.flatMap(([arrow, right, down]) =>
  lengths.map(([modifier, by]) =>
    free(`${modifier}${arrow}`, (event) => {
      const onControl = (event.target as Element).closest('button, a, [role=slider], [role=radio]');
      return !onControl && nudge(right * by, down * by);
    }),
  ),
);

function nudge(right: number, down: number): boolean {
  const ids = chosenPieces();
  if (ids.length === 0) return false;
  const move = (piece: Piece) => {
    piece.x = Number((piece.x + right).toFixed(2));
    piece.y = Number((piece.y + down).toFixed(2));
  };
  editPieces(ids, move, true);
  return true;
}
