/** As much of a browser as the front end's logic takes hold of while its modules load: this is imported before them. */
const nothing = () => undefined;

Object.assign(globalThis, {
  window: globalThis,
  location: { origin: 'http://zolvet.test', href: 'http://zolvet.test/' },
  addEventListener: nothing,
  removeEventListener: nothing,
  PointerEvent: Event,
  document: {
    addEventListener: nothing,
    documentElement: { dataset: {} },
    activeElement: null,
    body: null,
    visibilityState: 'visible',
    createElement: () => ({ getContext: () => null }),
  },
});

type Answer = () => Promise<Response>;

/** Answers requests in the order they come, with what a test has put in; where nothing is, it is away. */
export class Service {
  readonly asked: { method: string; path: string; body: unknown }[] = [];
  private readonly answers: Answer[] = [];

  constructor() {
    globalThis.fetch = async (input, init) => {
      const request = new Request(input, init);
      const text = await request.text();
      const path = new URL(request.url).pathname;
      this.asked.push({ method: request.method, path, body: text ? JSON.parse(text) : null });
      const next = this.answers.shift();
      if (!next) throw new TypeError('fetch failed');
      request.signal.throwIfAborted();
      const ended = new Promise<never>((_, reject) => {
        request.signal.addEventListener('abort', () => reject(request.signal.reason));
      });
      return Promise.race([next(), ended]);
    };
  }

  /** The next request is answered with this. */
  answer(body: unknown, status = 200) {
    this.answers.push(async () => Response.json(body, { status }));
  }

  /** The next request is answered once what comes back is called. */
  late(): (body: unknown) => void {
    let send: (response: Response) => void = nothing;
    const coming = new Promise<Response>((resolve) => {
      send = resolve;
    });
    this.answers.push(() => coming);
    return (body) => send(Response.json(body));
  }
}

/** Lets everything that waits for nothing more go on. */
export async function settled(ms = 0) {
  for (let turn = 0; turn < 20; turn++) await new Promise((resolve) => setTimeout(resolve, ms / 20));
}
