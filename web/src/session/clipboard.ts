import { create } from 'zustand';
import type { Coat } from '../core/client';
import { remember, remembered } from '../core/storage';
import { adopted, nothingReferred, type Referred, referredBy } from './adopt';
import { putIn, stacksOf } from './coats';
import { pieceOf, sceneOf, stackOf } from './lookup';
import { edit, useDocument } from './store';

/** Coats that were copied, with what they refer to: they may be pasted into another project. */
interface Copied extends Referred {
  coats: Coat[];
}

export const useClipboard = create<Copied>()(() => ({ coats: [], ...nothingReferred }));

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
  useClipboard.setState({ coats, ...referredBy(coats, document) });
  return coats.length > 0;
}

/** Puts copied coats on the system's clipboard; false when the event is meant for something else. */
export function onCopy(event: ClipboardEvent): boolean {
  // Text that is selected is what is copied.
  if (!taken && (String(window.getSelection()) !== '' || !take(false))) return false;
  const text = MARK + JSON.stringify(useClipboard.getState());
  event.clipboardData?.setData('text/plain', text);
  // Where it is not remembered, other tabs do not know them.
  remember(SHARED, text);
  return true;
}

/** Pastes what text on the clipboard stands for, where it stands for coats. */
export function pasteText(text: string): boolean {
  if (!text.startsWith(MARK)) return false;
  const own = MARK + JSON.stringify(useClipboard.getState());
  if (text !== own) {
    // Nothing but what a tab of ours has copied is taken for coats.
    if (text !== remembered(SHARED)) return false;
    useClipboard.setState(JSON.parse(text.slice(MARK.length)));
  }
  pasteCoats();
  return true;
}

/** Puts the copied coats on every chosen piece, on top of what it has. */
export function pasteCoats() {
  const { coats: copied, ...referred } = useClipboard.getState();
  if (copied.length === 0) return;
  edit((draft) => {
    const coats = adopted(draft, copied, { ...nothingReferred, ...referred });
    for (const { stack } of stacksOf(draft)) putIn(stack, coats);
  });
}
