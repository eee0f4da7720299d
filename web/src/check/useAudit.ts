import { useCallback, useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { audited, type Question } from '../session/audited';

type Finding = Schemas['Finding'];

export interface AuditState {
  /** The last answer, kept while the next is being found; before there is one, what has been found so far. */
  audit: Schemas['Audit'] | null;
  /** Whether that is all of it. */
  isWhole: boolean;
  /** The document it was found in. */
  found: Project | null;
  /** From 0 to 1 while the project is looked over. */
  done: number | null;
  failure: string | null;
  again: () => void;
  stop: () => void;
}

const pace = { pause: 400, cancels: true };

/** Looks the project over whenever it changes; a newer change ends what is under way. */
export function useAudit(project: Project | null, limits: Question['limits']): AuditState {
  const [done, setDone] = useState<number | null>(null);
  const [coming, setComing] = useState<{ of: Question; findings: Finding[] } | null>(null);
  const question = useMemo(() => project && { project, limits }, [project, limits]);
  const ask = useCallback(async (question: Question, signal: AbortSignal) => {
    setDone(0);
    setComing({ of: question, findings: [] });
    const tell = (done: number, found: Finding[]) => {
      setDone(done);
      if (found.length === 0) return;
      setComing((before) => ({ of: question, findings: withFound(before?.findings ?? [], found) }));
    };
    try {
      return await audited(question, signal, tell);
    } finally {
      setDone(null);
    }
  }, []);
  const { answer, of, failure, again, stop } = useAnswered(question, ask, pace);
  if (!answer && coming && coming.findings.length > 0) {
    const { findings, of } = coming;
    return { audit: { findings }, isWhole: false, found: of.project, done, failure, again, stop };
  }
  return { audit: answer, isWhole: answer !== null, found: of?.project ?? null, done, failure, again, stop };
}

const ranks: Record<Schemas['Severity'], number> = { error: 0, warning: 1, hint: 2 };

/** Findings with some more, the worst first and those that are accepted last, each of them once. */
export function withFound(before: Finding[], more: Finding[]): Finding[] {
  const known = new Set(before.map(({ key }) => key));
  const all = [...before, ...more.filter(({ key }) => !known.has(key))];
  const rank = (finding: Finding) => (finding.accepted ? 3 : ranks[finding.severity]);
  return all.sort((one, other) => rank(one) - rank(other));
}
