import { words } from '../messages';
import { ApiFailure, Unreachable } from './client';

/** What is known of a question: the last answer, what it answers, and whether that is still the question. */
export interface Answered<Q, A> {
  answer: A | null;
  of: Q | null;
  fresh: boolean;
  /** Why there is no fresh answer, in words; it is asked again when the reason passes. */
  failure: string | null;
}

export const NO_ANSWER: Answered<never, never> = { answer: null, of: null, fresh: false, failure: null };

/** How soon a question is asked. */
export interface Pace {
  /** Ms after it last changed; more where the answer takes long, unless it is 0. */
  pause: number;
  /** Ms after the last question was asked, at most, while it goes on changing; more where the answer takes long. */
  atMost?: number;
  /** Whether a newer question ends the one that is being answered, instead of waiting for it. */
  cancels?: boolean;
}

/** What is computed beside a moving hand leaves the cores to it for so many times what it takes itself, and ms at most. */
const YIELDS = { times: 8, most: 800 };
/** A hand rests once nothing has changed for so many times what the answer takes, and ms at most. */
const RESTS = { times: 2, most: 200 };

/** Ms before the first try again while the service is away or busy, and before later ones at most. */
const AGAIN = { first: 500, most: 8000 };

/**
 * The one discipline of every question to the core: one at a time and always the newest; what is no longer wanted is
 * cancelled, what failed for a reason that passes is asked again.
 */
export class LatestRequest<Q, A> {
  private question: Q | null = null;
  private told: Answered<Q, A> = NO_ANSWER;
  private due = 0;
  private asked = 0;
  private took = 0;
  /** How often it failed one after another. */
  private failures = 0;
  private timer = 0;
  /** Whether the service does not take the question as it is. */
  private refused = false;
  private asking: { question: Q; controller: AbortController } | null = null;

  constructor(
    private readonly ask: (question: Q, signal: AbortSignal) => Promise<A>,
    private readonly tell: (told: Answered<Q, A>) => void,
  ) {}

  /** A new question takes the place of the one before; null asks nothing more and forgets what was answered. */
  change(question: Q | null, { pause, atMost = Number.POSITIVE_INFINITY, cancels = false }: Pace) {
    if (question === this.question) return;
    this.question = question;
    this.refused = false;
    if (question === null) return this.stop();
    const enough = ({ times, most }: typeof RESTS) => Math.min(times * this.took, most);
    const rest = pause === 0 ? 0 : Math.max(pause, enough(RESTS));
    this.due = Math.min(Date.now() + rest, this.asked + Math.max(atMost, enough(YIELDS)));
    if (cancels) this.asking?.controller.abort();
    if (this.told.fresh) this.say({ fresh: false });
    this.wait();
  }

  /** Asks the same again. */
  again() {
    this.due = 0;
    this.refused = false;
    this.asking?.controller.abort();
    if (this.question !== null) this.say({ fresh: false });
    this.wait();
  }

  /** Ends what is being asked, and asks nothing more until there is another question; the last answer stays. */
  pause() {
    window.clearTimeout(this.timer);
    this.refused = true;
    this.asking?.controller.abort();
  }

  /** Ends what is being asked, and forgets what was answered. */
  stop() {
    this.pause();
    this.question = null;
    this.told = NO_ANSWER;
    this.tell(this.told);
  }

  private wait() {
    window.clearTimeout(this.timer);
    if (this.asking || this.refused || this.question === null || this.told.fresh) return;
    const left = this.due - Date.now();
    // What is due is asked at once: the core works while the page draws what else has changed.
    if (left <= 0) void this.next();
    else this.timer = window.setTimeout(() => void this.next(), left);
  }

  private async next() {
    const { question } = this;
    if (question === null) return;
    const controller = new AbortController();
    this.asking = { question, controller };
    this.asked = Date.now();
    try {
      const answer = await this.ask(question, controller.signal);
      this.took = Date.now() - this.asked;
      this.failures = 0;
      // The answer to an older question is better than none, while the newest is on its way.
      if (this.question !== null && !controller.signal.aborted) {
        this.say({ answer, of: question, fresh: question === this.question, failure: null });
      }
    } catch (error) {
      if (!controller.signal.aborted) this.failed(question, error);
    }
    this.asking = null;
    this.wait();
  }

  private failed(question: Q, error: unknown) {
    const isAnswer = error instanceof ApiFailure;
    const passes = isAnswer
      ? [408, 409, 429].includes(error.status) || error.status >= 500
      : error instanceof Unreachable;
    const failure = isAnswer || passes ? (error as Error).message : words.core.cannotBeShown(String(error));
    if (passes) this.due = Date.now() + Math.min(AGAIN.first * 2 ** this.failures++, AGAIN.most);
    // What the service refuses is not asked again until it is another question.
    else this.refused = question === this.question;
    this.say({ failure });
  }

  private say(told: Partial<Answered<Q, A>>) {
    this.told = { ...this.told, ...told };
    this.tell(this.told);
  }
}
