import { answer, api, type Coat } from '../core/client';
import { newId } from './newId';
import { editCoats, target } from './store';

/** What of a text looks like declarations that coats can be read from. */
const declared = /(^|[\s;{])(-webkit-)?(box-shadow|text-shadow|filter|backdrop-filter)\s*:/;

/** Whether a text is likely to be CSS of shadows. */
export function isCss(text: string): boolean {
  return declared.test(text);
}

/** Reads coats from CSS and puts them on top of the chosen piece's stack, or in its place. */
export async function takeCss(css: string, replace: boolean) {
  // The piece it was pasted for, whichever is chosen by then.
  const meant = target();
  const found = answer(await api.POST('/api/css', { body: { css } }));
  const put = (coats: Coat[]) => {
    const fresh = found.coats.map((coat) => ({ ...coat, id: newId() }));
    coats.splice(0, replace ? coats.length : 0, ...fresh);
  };
  editCoats(put, false, meant);
  return found;
}
