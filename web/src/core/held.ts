import { changesBetween } from './changes';
import { ApiFailure, type Project } from './client';
import { textOf } from './text';

/**
 * What the core holds of the open project. It is sent whole once; afterwards a question says only what has changed since a
 * version that was answered. Where the core has lost it, it is sent whole again.
 */
export class HeldDocuments {
  private readonly session = crypto.getRandomValues(new Uint32Array(4)).join('-');
  private readonly numbers = new WeakMap<Project, number>();
  private given = 0;
  private known: { project: Project; version: number } | null = null;
  private opening: Promise<unknown> | null = null;

  /** Asks about a project; `ask` gets the JSON that says which. */
  async asked<A>(project: Project, ask: (said: string) => Promise<A>): Promise<A> {
    // The first question carries the whole document; those beside it need not.
    while (!this.known && this.opening) await this.opening;
    const version = this.numberOf(project);
    const before = this.known;
    const answered = ask(this.said(project, version));
    if (!before) {
      const opening = answered.catch(() => undefined).finally(() => this.opened(opening));
      this.opening = opening;
    }
    try {
      const answer = await answered;
      if (!this.known || this.known.version < version) this.known = { project, version };
      return answer;
    } catch (error) {
      if (!(error instanceof ApiFailure) || error.problem?.type !== 'lost') throw error;
      if (this.known === before) this.known = null;
      return this.asked(project, ask);
    }
  }

  private opened(opening: Promise<unknown>) {
    if (this.opening === opening) this.opening = null;
  }

  private said(project: Project, version: number): string {
    const { session, known } = this;
    if (!known) return textOf({ session, version, document: project });
    const patch = changesBetween(known.project, project);
    return textOf({ session, version, from: known.version, patch });
  }

  /** The same object is the same version. */
  private numberOf(project: Project): number {
    const known = this.numbers.get(project);
    if (known !== undefined) return known;
    this.given += 1;
    this.numbers.set(project, this.given);
    return this.given;
  }
}
