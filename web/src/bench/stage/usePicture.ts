import { type RefObject, useEffect, useRef, useState } from 'react';
import type { Project, Scene } from '../../core/client';
import { Newest } from '../../core/newest';
import { type Drawn, drawStage, type StagePicture, type StageQuestion } from '../../core/stage';
import { sceneOf } from '../../session/store';
import type { Region } from './useRoom';

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
  /** As another screen or eye sees it, or as a browser draws it: JSON, so that the same is the same. */
  seen?: string;
}

/** Keeps a canvas showing the newest picture. */
export function usePicture(shown: Shown) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [painter] = useState(() => new Painter(canvas, setFailure));
  useEffect(() => painter.show(shown));
  useEffect(() => () => painter.stop(), [painter]);
  return { canvas, failure, painter };
}

/** Puts pictures on a canvas as they come. */
class Painter {
  private shown: Shown | null = null;
  /** The last answer, the picture that is on the canvas now, and the canvas. */
  private painted: StagePicture | null = null;
  private there: { drawn: Drawn; on: HTMLCanvasElement } | null = null;
  private readonly newest: Newest<Shown, StagePicture>;

  constructor(
    private readonly canvas: RefObject<HTMLCanvasElement | null>,
    tell: (failure: string | null) => void,
  ) {
    this.newest = new Newest(
      (shown, signal) => drawStage(questionOf(shown), this.onCanvas(), signal),
      ({ answer, of, failure }) => {
        tell(failure);
        if (answer && of && answer !== this.painted) this.put(answer, of);
      },
    );
  }

  show(shown: Shown) {
    if (!shown.project || !shown.scene || shown.scale <= 0 || same(shown, this.shown)) return;
    this.shown = shown;
    this.newest.change(shown, { pause: 0 });
  }

  /** The document has changed: its picture need not wait until everything else on the screen has. */
  hurry(project: Project | null, scene: string | null) {
    if (this.shown?.scene === scene) this.show({ ...this.shown, project });
  }

  stop() {
    this.shown = null;
    this.newest.stop();
  }

  /** The picture that is on the canvas, if it is still the same canvas. */
  private onCanvas(): Drawn | null {
    return this.there && this.there.on === this.canvas.current ? this.there.drawn : null;
  }

  private put(picture: StagePicture, { project, scene, region }: Shown) {
    const canvas = this.canvas.current;
    this.painted = picture;
    if (!canvas) return;
    const { width, height } = picture;
    if (canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    const context = canvas.getContext('2d');
    for (const { x, y, pixels } of picture.regions) context?.putImageData(pixels, x, y);
    Object.assign(canvas.style, placeOf(sceneOf(project, scene), region));
    canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
    this.there = { drawn: picture.drawn, on: canvas };
  }
}

function questionOf({ project, scene, scale, region, before, only, seen }: Shown): StageQuestion {
  return {
    project: project as Project,
    scene: scene as string,
    scale,
    region: region ?? undefined,
    coats: before ? 'none' : 'all',
    only: only ?? undefined,
    ...(seen ? JSON.parse(seen) : {}),
  };
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
