import { useMemo } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';

type Fix = Schemas['Fix'];

/** The fix of a finding: what came with it, or for too many shadow layers, fewer that are found when it is opened. */
export interface Found {
  fix: Fix | undefined;
  /** Whether it is still being found. */
  finding: boolean;
}

/** Fewer shadows for the finding that is open; `found` is the document it was found in. */
export function useFewerShadows(finding: Schemas['Finding'] | undefined, found: Project | null): Found {
  const key = finding?.kind === 'paint_budget' && !finding.accepted ? finding.key : null;
  const asked = useMemo(() => (key && found ? { project: found, finding: key } : null), [key, found]);
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    await askCore('/api/audit/fewer', body, signal);
  const told = useAnswered(asked, ask, { pause: 0, cancels: true });
  if (!asked || told.failure) return { fix: finding?.fix ?? undefined, finding: false };
  if (!told.fresh || !told.answer) return { fix: undefined, finding: true };
  return { fix: told.answer, finding: false };
}
