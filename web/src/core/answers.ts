import { replaceEqualDeep } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';

/**
 * Asks the service again whenever the question changes, one question at a time and always the newest; the last
 * answer stays until the next is there.
 */
export function useAnswer<Q, A>(
  question: Q | null,
  ask: (question: Q) => Promise<A>,
  pause: number,
  atMost = Number.POSITIVE_INFINITY,
): A | null {
  const [latest, setLatest] = useState<A | null>(null);
  const asking = useRef(ask);
  asking.current = ask;
  const [asker] = useState(() => {
    // What is still the same stays the same object, so that what shows it need not be drawn anew.
    const tell = (answer: A | null) => setLatest((last) => replaceEqualDeep(last, answer));
    return new Asker<Q, A>((question) => asking.current(question), tell);
  });
  useEffect(() => asker.change(question, pause, atMost), [asker, question, pause, atMost]);
  useEffect(() => () => asker.change(null, 0, 0), [asker]);
  return latest;
}

/** Asks one question at a time, the newest, and no sooner than it is due. */
class Asker<Q, A> {
  private waiting: Q | null = null;
  private due = 0;
  private asked = 0;
  private busy = false;
  private wanted = false;
  private timer = 0;

  constructor(
    private readonly ask: (question: Q) => Promise<A>,
    private readonly tell: (answer: A | null) => void,
  ) {}

  /** A drag that goes on is not waited for longer than `atMost` since the last question. */
  change(question: Q | null, pause: number, atMost: number) {
    this.waiting = question;
    this.wanted = question !== null;
    this.due = Math.min(Date.now() + pause, this.asked + atMost);
    if (!this.wanted) this.tell(null);
    this.wait();
  }

  private wait() {
    window.clearTimeout(this.timer);
    if (this.busy || this.waiting === null) return;
    this.timer = window.setTimeout(() => this.next(), Math.max(0, this.due - Date.now()));
  }

  private async next() {
    const question = this.waiting;
    if (question === null) return;
    this.waiting = null;
    this.busy = true;
    this.asked = Date.now();
    try {
      const answer = await this.ask(question);
      if (this.wanted) this.tell(answer);
    } catch {
      // The stage says when the service is away; instruments keep what they show.
    }
    this.busy = false;
    this.wait();
  }
}
