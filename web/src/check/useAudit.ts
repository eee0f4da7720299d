import { useCallback, useMemo, useState } from 'react';
import { useTold } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { audited, type Question } from './audited';

export interface Looked {
  /** The last answer; kept while the next is being found. */
  audit: Schemas['Audit'] | null;
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
export function useAudit(project: Project | null, limits: Question['limits']): Looked {
  const [done, setDone] = useState<number | null>(null);
  const question = useMemo(() => project && { project, limits }, [project, limits]);
  const ask = useCallback(async (question: Question, signal: AbortSignal) => {
    setDone(0);
    try {
      return await audited(question, signal, setDone);
    } finally {
      setDone(null);
    }
  }, []);
  const { answer, of, failure, again, stop } = useTold(question, ask, pace);
  return { audit: answer, found: of?.project ?? null, done, failure, again, stop };
}
