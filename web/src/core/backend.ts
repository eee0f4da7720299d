import type { Project } from './client';
import { HeldDocuments } from './held';
import type { Painted, PaintTarget } from './messages';
import { textOf } from './text';

/** How something is asked. */
export interface CallOptions {
  signal?: AbortSignal;
  /** Where a worker paints the answer; the service sends it all the same. */
  onto?: PaintTarget;
}

/** How questions get to the core and answers back: by the service, or a worker of the page. */
export abstract class CoreBackend {
  /** What it holds of the open project. */
  private held = new HeldDocuments();

  /** Asks, and answers in bytes; fails with what the core says against it. */
  protected abstract send(path: string, body: string, how: CallOptions): Promise<ArrayBuffer | Painted>;

  async ask(path: string, question: object, how: CallOptions): Promise<ArrayBuffer | Painted> {
    const { project, ...rest } = question as { project?: Project };
    if (!project) return this.send(path, textOf(rest), how);
    return this.held.asked(project, (said) => {
      const others = textOf(rest).slice(1);
      return this.send(path, `{"project":${said}${others === '}' ? '' : ','}${others}`, how);
    });
  }
}

/** An answer in JSON. */
export function read(bytes: ArrayBuffer | Painted): unknown {
  if (!(bytes instanceof ArrayBuffer)) return null;
  return JSON.parse(new TextDecoder().decode(bytes));
}
