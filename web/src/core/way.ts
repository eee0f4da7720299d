import type { Project } from './client';
import { Held } from './held';
import { textOf } from './text';

/** How questions get to the core and answers back: by the service, or a worker of the page. */
export abstract class Way {
  /** What it holds of the open project. */
  private held = new Held();

  /** Asks, and answers in bytes; fails with what the core says against it. */
  protected abstract send(path: string, body: string, signal?: AbortSignal): Promise<ArrayBuffer>;

  async ask(path: string, question: object, signal?: AbortSignal): Promise<ArrayBuffer> {
    const { project, ...rest } = question as { project?: Project };
    if (!project) return this.send(path, textOf(rest), signal);
    return this.held.asked(project, (said) => {
      const others = textOf(rest).slice(1);
      return this.send(path, `{"project":${said}${others === '}' ? '' : ','}${others}`, signal);
    });
  }
}

/** An answer in JSON. */
export function read(bytes: ArrayBuffer): unknown {
  return JSON.parse(new TextDecoder().decode(bytes));
}
