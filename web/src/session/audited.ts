import {
  ApiFailure,
  editor,
  fetchInTime,
  LONG_PATIENCE,
  type Problem,
  type Project,
  type Schemas,
  Unreachable,
} from '../core/client';
import { words } from '../messages';

type Line = Schemas['AuditProgress'];

/** What is looked over, and as what it is seen on. */
export interface Question {
  project: Project;
  limits: Pick<Schemas['Limits'], 'screen' | 'density'>;
}

/** Looks a project over; the answer is read line by line as it comes. */
export async function audited(
  question: Question,
  signal: AbortSignal,
  tell: (done: number, found: Schemas['Finding'][]) => void = () => {},
): Promise<Schemas['Audit']> {
  const headers = { ...editor, 'Content-Type': 'application/json' };
  const asked = { method: 'POST', headers, body: JSON.stringify(question), signal };
  const response = await fetchInTime('/api/audit', asked, LONG_PATIENCE);
  if (!response.ok || !response.body) {
    throw new ApiFailure(response.status, (await response.json()) as Problem);
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let begun = '';
  for (;;) {
    const { done, value } = await reader.read().catch((error) => {
      throw signal.aborted ? error : new Unreachable();
    });
    if (done) throw new Unreachable(words.check.theAnswerEndedTooSoon);
    const lines = (begun + value).split('\n');
    begun = lines.pop() ?? '';
    for (const text of lines) {
      const line: Line = JSON.parse(text);
      if (line.failed) throw new ApiFailure(422, { detail: line.failed } as Problem);
      if (line.audit) return line.audit;
      tell(line.done, line.found ?? []);
    }
  }
}
