import type { Project } from '../core/client';
import { askAtOnce, askCore } from '../core/core';
import { sceneOf } from '../session/lookup';
import { asUsual } from '../session/sheetOptions';
import type { DocumentState } from '../session/state';
import { useDocument } from '../session/store';
import { showSheet } from './frameDocument';

/** Shows in a page what is given to it, as soon as it changes; a state that is chosen is shown at rest. Gives what ends that. */
export function keepShowing(page: Document, asItCame: boolean): () => void {
  if (asItCame) {
    showSheet(page, '');
    return () => undefined;
  }
  let newest = 0;
  const show = (now: DocumentState) => {
    newest += 1;
    const turn = newest;
    sheetOf(now).then(
      (css) => turn === newest && showSheet(page, css),
      // What cannot be written is said where the sheet is read.
      () => undefined,
    );
  };
  const keys = ['document', 'scene', 'state'] as const;
  const end = useDocument.subscribe((now, before) => {
    if (keys.some((key) => now[key] !== before[key])) show(now);
  });
  show(useDocument.getState());
  return () => {
    newest += 1;
    end();
  };
}

async function sheetOf({ document, scene, state }: DocumentState): Promise<string> {
  const own = sceneOf(document, scene);
  if (!document || !own) return '';
  const more = {
    scene: own.id,
    state: state === 'rest' ? null : state,
    options: { ...asUsual, theme: own.theme },
  };
  try {
    return (await askAtOnce('/api/page/sheet', { project: withoutOthers(document, own.id), ...more })).css;
  } catch {
    return (await askCore('/api/page/sheet', { project: document, ...more })).css;
  }
}

/** A project without what a sheet does not need, so that it is read in no time. */
function withoutOthers(document: Project, scene: string): Project {
  const scenes = document.scenes.filter(({ id }) => id === scene);
  const assets = document.assets?.filter(({ id }) => scenes.some(({ page }) => page?.asset === id));
  return { ...document, scenes, assets, accepted: [] };
}
