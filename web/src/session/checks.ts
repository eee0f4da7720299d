import { replaceEqualDeep } from '@tanstack/react-query';
import type { Operation } from 'rfc6902';
import type { Project, Schemas } from '../core/client';
import { rebased } from './rebase';
import { edit, useDocument } from './store';

type Fix = Schemas['Fix'];

/** The document as a fix would leave it; `found` is the one the fix was found in. */
export function withFix(document: Project, fix: Fix, found: Project): Project {
  return rebased(fix.patch as Operation[], found, document) ?? document;
}

/** Takes a fix: one step to undo. False when what it is about is no longer there; then nothing is changed. */
export function takeFix(fix: Fix, found: Project): boolean {
  return takePatch(fix.patch as Operation[], found);
}

/** Takes the changes of a document that were worked out for it as it was. */
export function takePatch(patch: Operation[], found: Project, gesture = false): boolean {
  const { document } = useDocument.getState();
  const fixed = document && rebased(patch, found, document);
  if (!fixed) return false;
  // What the fix does not change stays the same object, so that the step is named by what it does.
  const same = replaceEqualDeep(document, fixed);
  edit((draft) => {
    Object.assign(draft, same);
  }, gesture);
  return true;
}

/** Silences a finding, and says why. */
export function accept(finding: string, note: string) {
  edit((draft) => {
    draft.accepted = [...(draft.accepted ?? []), { finding, note }];
  });
}

/** A finding is told again. */
export function acceptNoMore(finding: string) {
  edit((draft) => {
    draft.accepted = (draft.accepted ?? []).filter((accepted) => accepted.finding !== finding);
  });
}
