import { useMemo } from 'react';
import { create } from 'zustand';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { audited, type Question } from './audited';
import { useDocument } from './store';

/** What was found last, and in which document. */
const useFound = create<{ count: number | null; of: Project | null }>()(() => ({ count: null, of: null }));

/** Keeps how many findings of an audit are open. */
export function keepCount(audit: Schemas['Audit'], of: Project) {
  useFound.setState({ count: audit.findings.filter((finding) => !finding.accepted).length, of });
}

/** Nobody waits for it: it is asked when nothing has changed for a while. */
const pace = { pause: 4000, cancels: true };

const limits = { screen: { kind: 'plain' } as const, density: 1 };

/** How many findings are open, found in the background unless the view in front finds them itself. */
export function useFindingCount(asks: boolean): number | null {
  const project = useDocument((state) => state.document);
  const of = useFound((found) => found.of);
  const wanted = asks && project !== of ? project : null;
  const question = useMemo(() => wanted && { project: wanted, limits }, [wanted]);
  useAnswered(question, ask, pace);
  return useFound((found) => found.count);
}

async function ask(question: Question, signal: AbortSignal) {
  const audit = await audited(question, signal);
  keepCount(audit, question.project);
  return audit;
}
