import { useEffect } from 'react';
import { copyCoats, pasteCoats, removeCoats } from '../document/coats';
import { duplicatePiece, editPieces, removePieces } from '../document/pieces';
import {
  choosePiece,
  chosenPieces,
  openCoat,
  pieceOf,
  redo,
  rest,
  sceneOf,
  undo,
  useDocument,
} from '../document/store';
import { useView, zoomBy } from './view';

interface Held {
  onBefore: (held: boolean) => void;
  onOnly: (coat: string | null) => void;
  onSheet: () => void;
}

/** What keys do while no field, menu or handle has them for itself. */
export function useKeys({ onBefore, onOnly, onSheet }: Held) {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const typing =
        (event.target as Element).closest('input, textarea, select, [role=menu], [role=dialog]') ||
        // What is open has Escape and the arrows for itself.
        document.querySelector('[role=menu], [role=dialog]');
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === 'z' && !isTextField(event.target)) {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (typing || event.defaultPrevented) return;
      const done = command ? onCommand(key) : onPlain(event, { onBefore, onOnly, onSheet });
      if (done) event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === 'b') onBefore(false);
      if (event.key.toLowerCase() === 'o') onOnly(null);
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, [onBefore, onOnly, onSheet]);
}

/** A field with text of its own to undo; a number is undone with the document. */
function isTextField(target: EventTarget | null): boolean {
  return target instanceof HTMLTextAreaElement;
}

function onCommand(key: string): boolean {
  // Text that is selected is what is copied.
  if (key === 'c' && String(window.getSelection()) === '') copyCoats();
  else if (key === 'v') pasteCoats();
  else if (key === 'd') {
    const { document, scene, piece } = useDocument.getState();
    const chosen = pieceOf(sceneOf(document, scene), piece);
    if (chosen) duplicatePiece(chosen);
  } else return false;
  return true;
}

function onPlain(event: KeyboardEvent, { onBefore, onOnly, onSheet }: Held): boolean {
  const { coat, ticked } = useDocument.getState();
  const onButton = (event.target as Element).closest('button, a, [role=slider], [role=radio]');
  switch (event.key) {
    case '?':
      onSheet();
      return true;
    case 'b':
      onBefore(true);
      return true;
    case 'o':
      onOnly(coat);
      return true;
    case '+':
      zoomBy(1);
      return true;
    case '-':
      zoomBy(-1);
      return true;
    case '0':
      useView.setState({ zoom: 0 });
      return true;
    case '[':
    case ']':
      return step(event.key === ']' ? 1 : -1);
    case 'Escape':
      if (coat) openCoat(null);
      else choosePiece(null);
      return true;
    case 'Delete':
    case 'Backspace':
      if (ticked.length > 0) removeCoats(ticked);
      else if (coat) removeCoats([coat]);
      else removePieces(chosenPieces());
      return true;
    default:
      return !onButton && nudge(event);
  }
}

/** Chooses the next or last piece of the scene. */
function step(by: 1 | -1): boolean {
  const { document, scene, piece } = useDocument.getState();
  const pieces = sceneOf(document, scene)?.pieces ?? [];
  const at = pieces.findIndex((other) => other.id === piece);
  const next = pieces[(at + by + pieces.length) % pieces.length];
  if (next) choosePiece(next.id);
  return true;
}

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Moves the chosen pieces by 1 px, with Shift by 10, with Alt by a tenth. */
function nudge(event: KeyboardEvent): boolean {
  const [right, down] = arrows[event.key] ?? [0, 0];
  const ids = chosenPieces();
  if ((right === 0 && down === 0) || ids.length === 0) return false;
  const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
  editPieces(ids, (piece) => {
    piece.x = Number((piece.x + right * by).toFixed(2));
    piece.y = Number((piece.y + down * by).toFixed(2));
  });
  rest();
  return true;
}
