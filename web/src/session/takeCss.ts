import type { Coat } from '../core/client';
import { askCore } from '../core/core';
import { target } from './choice';
import { newId } from './newId';
import { editCoats } from './stacks';

/** What of a text looks like declarations that coats can be read from. */
const declared = /(^|[\s;{])(-webkit-)?(box-shadow|text-shadow|filter|backdrop-filter)\s*:/;

/** Whether a text is likely to be CSS of shadows. */
export function isCss(text: string): boolean {
  return declared.test(text);
}

/** The coats some CSS stands for, with ids of their own; nothing is taken unless all of it is understood. */
export async function readCss(css: string) {
  const { coats, diagnostics } = await askCore('/api/css', { css });
  return { coats: coats.map((coat): Coat => ({ ...coat, id: newId() })), diagnostics };
}

/** Reads coats from CSS and puts them on top of the chosen piece's stack, or in its place. */
export async function takeCss(css: string, replace: boolean) {
  // The piece it was pasted for, whichever is chosen by then.
  const meant = target();
  const found = await readCss(css);
  const put = (coats: Coat[]) => {
    coats.splice(0, replace ? coats.length : 0, ...found.coats);
  };
  editCoats(put, false, meant);
  return found;
}
