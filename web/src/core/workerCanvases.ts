import type { CoreWorker } from './coreWorker';

/** A canvas that a worker paints on. */
export interface WorkerCanvas {
  canvas: HTMLCanvasElement;
  worker: CoreWorker;
  id: number;
  /** What it has been asked to show: pictures of the same are painted where they are seen. */
  view: string;
}

/**
 * Two canvases over another one, for a worker to paint on: one is shown, the other takes the picture of another view, which is
 * shown when it is there. So what follows a hand need not wait until the page has time to put it on its canvas.
 */
export class WorkerCanvases {
  private both: WorkerCanvas[] = [];
  private shown: WorkerCanvas | null = null;

  constructor(private readonly under: () => HTMLCanvasElement | null) {}

  /** The one to paint the picture of a view on; none where this browser has none. */
  forView(view: string, worker: CoreWorker): WorkerCanvas | null {
    const under = this.under();
    if (!under || !('transferControlToOffscreen' in under)) return null;
    const isGone = (leaf: WorkerCanvas) =>
      leaf.worker !== worker || leaf.canvas.parentNode !== under.parentNode;
    if (this.both.some(isGone)) this.remove();
    const leaf =
      this.both.find((known) => known.view === view) ??
      (this.both.length === 2 ? this.both.find((known) => known !== this.shown) : undefined) ??
      this.made(under, worker);
    leaf.view = view;
    return leaf;
  }

  /** Whether it shows this view already. */
  shows(leaf: WorkerCanvas, view: string): boolean {
    return this.shown === leaf && leaf.view === view;
  }

  show(leaf: WorkerCanvas, place: Partial<CSSStyleDeclaration>) {
    Object.assign(leaf.canvas.style, place);
    for (const { canvas } of this.both) canvas.hidden = canvas !== leaf.canvas;
    this.shown = leaf;
  }

  /** Somebody else shows the picture. */
  hide() {
    for (const { canvas } of this.both) canvas.hidden = true;
    this.shown = null;
  }

  remove() {
    for (const { canvas, worker, id } of this.both) {
      canvas.remove();
      worker.letGo(id);
    }
    this.both = [];
    this.shown = null;
  }

  private made(under: HTMLCanvasElement, worker: CoreWorker): WorkerCanvas {
    const canvas = document.createElement('canvas');
    canvas.className = under.className;
    canvas.ariaHidden = 'true';
    canvas.hidden = true;
    canvas.dataset.leaf = '';
    under.after(canvas);
    const leaf = { canvas, worker, id: worker.takeLeaf(canvas.transferControlToOffscreen()), view: '' };
    this.both.push(leaf);
    return leaf;
  }
}
