import { replaceEqualDeep } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { type Answered, LatestRequest, NO_ANSWER, type Pace } from './latestRequest';

type Ask<Q, A> = (question: Q, signal: AbortSignal) => Promise<A>;

/** What the core answers to a question, kept up with as that changes; the last answer stays until the next is there. */
export function useAnswer<Q, A>(question: Q | null, ask: Ask<Q, A>, pace: Pace): A | null {
  const [latest, setLatest] = useState<A | null>(null);
  // What is still the same stays the same object, so that what shows it need not be drawn anew.
  useLatestRequest(question, ask, pace, ({ answer }) => setLatest((last) => replaceEqualDeep(last, answer)));
  return latest;
}

export interface Asked<Q, A> extends Answered<Q, A> {
  /** Asks the same again. */
  again: () => void;
  /** Ends what is being asked; the last answer stays. */
  stop: () => void;
}

/** The same, with whether the answer is to what is asked now, and why there is none. */
export function useAnswered<Q, A>(question: Q | null, ask: Ask<Q, A>, pace: Pace): Asked<Q, A> {
  const [latest, setLatest] = useState<Answered<Q, A>>(NO_ANSWER);
  const newest = useLatestRequest(question, ask, pace, (told) =>
    setLatest((last) => ({ ...told, answer: replaceEqualDeep(last.answer, told.answer) })),
  );
  const [commands] = useState({ again: () => newest.again(), stop: () => newest.pause() });
  return { ...latest, ...commands };
}

/** Asks for as long as the part is on the screen. */
function useLatestRequest<Q, A>(
  question: Q | null,
  ask: Ask<Q, A>,
  { pause, atMost, cancels }: Pace,
  tell: (told: Answered<Q, A>) => void,
): LatestRequest<Q, A> {
  const calls = useRef({ ask, tell });
  calls.current = { ask, tell };
  const [newest] = useState(
    () =>
      new LatestRequest<Q, A>(
        (question, signal) => calls.current.ask(question, signal),
        (told) => calls.current.tell(told),
      ),
  );
  useEffect(
    () => newest.change(question, { pause, atMost, cancels }),
    [newest, question, pause, atMost, cancels],
  );
  useEffect(() => () => newest.stop(), [newest]);
  return newest;
}
