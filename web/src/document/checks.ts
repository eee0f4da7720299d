import type { Project, Schemas } from '../api/client';
import { edit } from './store';

type Mend = Schemas['Mend'];

/** Sets the values of a mend in a document. */
function put(document: Project, mend: Mend) {
  for (const { at, to } of mend.edits) {
    const steps = at
      .split('/')
      .slice(1)
      .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'));
    const field = steps.pop();
    let parent: unknown = document;
    for (const step of steps) parent = (parent as Record<string, unknown> | undefined)?.[step];
    if (!parent || field === undefined) continue;
    if (to !== undefined && to !== null) (parent as Record<string, unknown>)[field] = structuredClone(to);
    else if (Array.isArray(parent)) parent.splice(Number(field), 1);
  }
}

/** The document as a mend would leave it. */
export function withMend(document: Project, mend: Mend): Project {
  const copy = structuredClone(document);
  put(copy, mend);
  return copy;
}

/** Takes a mend: one step to undo. */
export function takeMend(mend: Mend) {
  edit((draft) => put(draft, mend));
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
