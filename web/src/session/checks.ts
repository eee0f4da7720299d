import { applyPatch, type Operation } from 'rfc6902';
import type { Project, Schemas } from '../core/client';
import { edit } from './store';

type Fix = Schemas['Fix'];

/** The document as a fix would leave it. */
export function withFix(document: Project, fix: Fix): Project {
  const copy = structuredClone(document);
  put(copy, fix);
  return copy;
}

/** Takes a fix: one step to undo. */
export function takeFix(fix: Fix) {
  edit((draft) => put(draft, fix));
}

/** Makes the changes of a fix; none of them where one has no place any more. */
function put(document: Project, fix: Fix) {
  applyPatch(document, structuredClone(fix.patch) as Operation[]);
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
