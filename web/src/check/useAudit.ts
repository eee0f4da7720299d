import { useCallback, useMemo, useState } from 'react';
import { useTold } from '../core/answers';
import { ApiFailure, editor, type Problem, type Project, type Schemas } from '../core/client';
import { words } from '../messages';

type Line = Schemas['AuditProgress'];
type Limits = Pick<Schemas['Limits'], 'screen' | 'density'>;

interface Question {
  project: Project;
  limits: Limits;
}

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
export function useAudit(project: Project | null, limits: Limits): Looked {
  const [done, setDone] = useState<number | null>(null);
  const question = useMemo(() => project && { project, limits }, [project, limits]);
  const ask = useCallback(async (question: Question, signal: AbortSignal) => {
    setDone(0);
    try {
      return await read(question, signal, setDone);
    } finally {
      setDone(null);
    }
  }, []);
  const { answer, of, failure, again, stop } = useTold(question, ask, pace);
  return { audit: answer, found: of?.project ?? null, done, failure, again, stop };
}

/** Reads the answer line by line as it comes. */
async function read(
  question: Question,
  signal: AbortSignal,
  tell: (done: number) => void,
): Promise<Schemas['Audit']> {
  const response = await fetch('/api/audit', {
    method: 'POST',
    headers: { ...editor, 'Content-Type': 'application/json' },
    body: JSON.stringify(question),
    signal,
  });
  if (!response.ok || !response.body) {
    throw new ApiFailure(response.status, (await response.json()) as Problem);
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let begun = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new TypeError(words.check.theAnswerEndedTooSoon);
    const lines = (begun + value).split('\n');
    begun = lines.pop() ?? '';
    for (const text of lines) {
      const line: Line = JSON.parse(text);
      if (line.failed) throw new ApiFailure(422, { detail: line.failed } as Problem);
      if (line.audit) return line.audit;
      tell(line.done);
    }
  }
}
