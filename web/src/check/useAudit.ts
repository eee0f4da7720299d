import { useEffect, useState } from 'react';
import { editor, type Project, type Schemas } from '../core/client';

type Line = Schemas['AuditProgress'];

interface Looked {
  /** The last answer; kept while the next is being found. */
  audit: Schemas['Audit'] | null;
  /** From 0 to 1 while the project is looked over. */
  done: number | null;
  failure: string | null;
}

/** Looks the project over whenever it changes; a newer change ends what is under way. */
export function useAudit(
  project: Project | null,
  limits: Pick<Schemas['Limits'], 'screen' | 'density'>,
): Looked & { again: () => void; stop: () => void } {
  const [looked, setLooked] = useState<Looked>({ audit: null, done: null, failure: null });
  const [asked, setAsked] = useState(0);
  const [running, setRunning] = useState<AbortController | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: asking again is a new question
  useEffect(() => {
    if (!project) return;
    const controller = new AbortController();
    const timer = window.setTimeout(async () => {
      setRunning(controller);
      setLooked((last) => ({ ...last, done: 0, failure: null }));
      try {
        await ask(project, limits, controller.signal, (line) => {
          setLooked((last) => ({
            audit: line.audit ?? last.audit,
            done: line.done < 1 ? line.done : null,
            failure: line.failed ?? null,
          }));
        });
      } catch (error) {
        if (controller.signal.aborted) return setLooked((last) => ({ ...last, done: null }));
        const failure =
          error instanceof TypeError ? 'The service does not answer.' : (error as Error).message;
        setLooked((last) => ({ ...last, done: null, failure }));
      }
    }, 400);
    return () => {
      window.clearTimeout(timer);
      controller.abort();
    };
  }, [project, limits, asked]);
  return { ...looked, again: () => setAsked((count) => count + 1), stop: () => running?.abort() };
}

/** Reads the answer line by line as it comes. */
async function ask(project: Project, limits: object, signal: AbortSignal, said: (line: Line) => void) {
  const response = await fetch('/api/audit', {
    method: 'POST',
    headers: { ...editor, 'Content-Type': 'application/json' },
    body: JSON.stringify({ project, limits }),
    signal,
  });
  if (!response.ok || !response.body) throw new Error((await response.json()).detail);
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) said(JSON.parse(line));
  }
}
