import { replaceEqualDeep } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Newest, nothingTold, type Pace, type Told } from './newest';

type Ask<Q, A> = (question: Q, signal: AbortSignal) => Promise<A>;

/** What the core answers to a question, kept up with as that changes; the last answer stays until the next is there. */
export function useAnswer<Q, A>(question: Q | null, ask: Ask<Q, A>, pace: Pace): A | null {
  const [latest, setLatest] = useState<A | null>(null);
  // What is still the same stays the same object, so that what shows it need not be drawn anew.
  useNewest(question, ask, pace, ({ answer }) => setLatest((last) => replaceEqualDeep(last, answer)));
  return latest;
}

export interface Asked<Q, A> extends Told<Q, A> {
  /** Asks the same again. */
  again: () => void;
  /** Ends what is being asked; the last answer stays. */
  stop: () => void;
}

/** The same, with whether the answer is to what is asked now, and why there is none. */
export function useTold<Q, A>(question: Q | null, ask: Ask<Q, A>, pace: Pace): Asked<Q, A> {
  const [latest, setLatest] = useState<Told<Q, A>>(nothingTold);
  const newest = useNewest(question, ask, pace, (told) =>
    setLatest((last) => ({ ...told, answer: replaceEqualDeep(last.answer, told.answer) })),
  );
  const [commands] = useState({ again: () => newest.again(), stop: () => newest.pause() });
  return { ...latest, ...commands };
}

/** Asks for as long as the part is on the screen. */
function useNewest<Q, A>(
  question: Q | null,
  ask: Ask<Q, A>,
  { pause, atMost, cancels }: Pace,
  tell: (told: Told<Q, A>) => void,
): Newest<Q, A> {
  const calls = useRef({ ask, tell });
  calls.current = { ask, tell };
  const [newest] = useState(
    () =>
      new Newest<Q, A>(
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
