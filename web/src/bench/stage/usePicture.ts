import { type RefObject, useEffect, useRef, useState } from 'react';
import { editor, type Project, type Scene } from '../../core/client';
import { onlyScene, sceneOf } from '../../session/store';
import type { Region } from './useRoom';

interface Failure extends Error {
  status?: number;
}

/** What is drawn of a document. */
export interface Shown {
  project: Project | null;
  scene: string | null;
  /** Device pixels for one px of the scene. */
  scale: number;
  region: Region | null;
  before: boolean;
  /** One coat alone. */
  only: string | null;
  /** As another screen or eye sees it: JSON, so that the same is the same. */
  seen?: string;
}

/** Keeps a canvas showing the newest picture. */
export function usePicture(shown: Shown) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [painter] = useState(() => new Painter(canvas, setFailure));
  useEffect(() => painter.show(shown));
  return { canvas, failure, painter };
}

/** Asks for one picture at a time, always of what was shown last. */
class Painter {
  private shown: Shown | null = null;
  private waiting = false;
  private busy = false;

  constructor(
    private readonly canvas: RefObject<HTMLCanvasElement | null>,
    private readonly tell: (failure: string | null) => void,
  ) {}

  show(shown: Shown) {
    if (!shown.project || !shown.scene || shown.scale <= 0 || same(shown, this.shown)) return;
    this.shown = shown;
    this.waiting = true;
    void this.paint();
  }

  /** The document has changed: its picture need not wait until everything else on the screen has. */
  hurry(project: Project | null, scene: string | null) {
    if (this.shown?.scene === scene) this.show({ ...this.shown, project });
  }

  private async paint() {
    if (this.busy) return;
    this.busy = true;
    while (this.waiting && this.shown) {
      this.waiting = false;
      try {
        await paint(this.canvas.current, this.shown);
        this.tell(null);
      } catch (error) {
        this.tell(error instanceof TypeError ? 'The service does not answer.' : (error as Error).message);
        // A busy or absent service is asked again.
        if (error instanceof TypeError || [409, 503].includes((error as Failure).status ?? 0)) {
          await new Promise((resolve) => window.setTimeout(resolve, 500));
          this.waiting = true;
        }
      }
    }
    this.busy = false;
  }
}

function same(a: Shown, b: Shown | null): boolean {
  const keys = ['project', 'scene', 'scale', 'region', 'before', 'only', 'seen'] as const;
  return b !== null && keys.every((key) => a[key] === b[key]);
}

/** Where a picture lies on the scene's sheet. */
type Place = Record<'left' | 'top' | 'width' | 'height', string>;

function placeOf(scene: Scene | undefined, region: Region | null): Place {
  if (!scene || !region) return { left: '0', top: '0', width: '100%', height: '100%' };
  const [x, y, w, h] = region;
  const share = (part: number, whole: number) => `${(part / whole) * 100}%`;
  return {
    left: share(x, scene.width),
    top: share(y, scene.height),
    width: share(w, scene.width),
    height: share(h, scene.height),
  };
}

async function paint(canvas: HTMLCanvasElement | null, shown: Shown) {
  const { project, scene, scale, region, before, only, seen } = shown;
  if (!project || !scene) return;
  const question = {
    project: onlyScene(project, scene),
    scene,
    scale,
    region: region ?? undefined,
    coats: before ? 'none' : 'all',
    only: only ?? undefined,
    ...(seen ? JSON.parse(seen) : {}),
  };
  const response = await fetch('/api/preview', {
    method: 'POST',
    headers: { ...editor, 'Content-Type': 'application/json', 'Zolvet-Question': 'stage' },
    body: JSON.stringify(question),
  });
  if (!response.ok) {
    const problem = await response.json();
    throw Object.assign(new Error(problem.detail), { status: response.status });
  }
  const width = Number(response.headers.get('X-Width'));
  const height = Number(response.headers.get('X-Height'));
  const pixels = new Uint8ClampedArray(await response.arrayBuffer());
  if (!canvas) return;
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  canvas.getContext('2d')?.putImageData(new ImageData(pixels, width, height), 0, 0);
  Object.assign(canvas.style, placeOf(sceneOf(project, scene), region));
  canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
}
