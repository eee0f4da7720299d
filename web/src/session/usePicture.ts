import { type RefObject, useEffect, useRef, useState } from 'react';
import type { Project, Scene } from '../core/client';
import { LatestRequest } from '../core/latestRequest';
import { putRegions } from '../core/regions';
import {
  type Drawn,
  drawStage,
  type SceneRegion,
  type StagePicture,
  type StageQuestion,
} from '../core/stage';
import { WorkerCanvases } from '../core/workerCanvases';
import { sceneOf } from './lookup';

/** What is drawn of a document. */
export interface StageRequest {
  project: Project | null;
  scene: string | null;
  /** Device pixels for one px of the scene. */
  scale: number;
  region: SceneRegion | null;
  before: boolean;
  /** One coat alone. */
  only: string | null;
  /** As another screen or eye sees it, or as a browser draws it: JSON, so that the same is the same. */
  seen?: string;
}

/**
 * Keeps a canvas showing the newest picture. With `newest`, which says how the project is now, it follows a hand: a worker may paint
 * on canvases over it by itself, and what is rendered of the page may be older than what is drawn.
 */
export function usePicture(shown: StageRequest, newest?: () => Project | null) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [painter] = useState(() => new Painter(canvas, newest !== undefined, setFailure));
  useEffect(() => painter.show(newest ? { ...shown, project: newest() } : shown));
  useEffect(() => () => painter.stop(), [painter]);
  return { canvas, failure, painter };
}

/** What is asked for: every pixel, or half of them across and down, which are enough while a hand moves. */
interface Asked extends StageRequest {
  coarse: boolean;
}

/** Ms that a picture may take before it is drawn coarsely while a hand moves, on a screen of dense pixels. */
const SLOW = 34;
/** Ms between changes of one movement. */
const MOVING = 250;
/** Every pixel is asked for this many ms after the last change, or this many times the gap before it if that is longer. */
const REST = { least: 60, times: 1.25 };

/** Puts pictures on a canvas as they come. */
class Painter {
  private shown: StageRequest | null = null;
  private painted: StagePicture | null = null;
  private readonly exact = new CanvasBuffer(() => this.canvas.current);
  private readonly coarse = new CanvasBuffer(() => this.beside());
  private readonly leaves: WorkerCanvases | null;
  private readonly newest: LatestRequest<Asked, StagePicture>;
  private made: HTMLCanvasElement | null = null;
  private isSlow = false;
  private changed = 0;
  private timer = 0;

  constructor(
    private readonly canvas: RefObject<HTMLCanvasElement | null>,
    followsHand: boolean,
    tell: (failure: string | null) => void,
  ) {
    this.leaves = followsHand ? new WorkerCanvases(() => canvas.current) : null;
    this.newest = new LatestRequest(
      (asked, signal) => this.ask(asked, signal),
      ({ answer, of, failure }) => {
        tell(failure);
        if (answer && of && answer !== this.painted) this.put(answer, of);
      },
    );
  }

  show(shown: StageRequest) {
    if (!shown.project || !shown.scene || shown.scale <= 0 || same(shown, this.shown)) return;
    const now = performance.now();
    const between = now - this.changed;
    const coarse = this.isSlow && window.devicePixelRatio > 1 && between < MOVING;
    this.shown = shown;
    this.changed = now;
    this.say(false);
    window.clearTimeout(this.timer);
    if (coarse) {
      const rest = Math.max(REST.least, REST.times * between);
      this.timer = window.setTimeout(() => this.newest.change({ ...shown, coarse: false }, pace), rest);
    }
    this.newest.change({ ...shown, coarse }, pace);
  }

  /** The document has changed: its picture need not wait until everything else on the screen has. */
  hurry(project: Project | null, scene: string | null) {
    if (this.shown?.scene === scene) this.show({ ...this.shown, project });
  }

  stop() {
    this.shown = null;
    window.clearTimeout(this.timer);
    this.newest.stop();
    this.made?.remove();
    this.leaves?.remove();
  }

  private async ask(asked: Asked, signal: AbortSignal): Promise<StagePicture> {
    const begun = performance.now();
    const sheet = asked.coarse ? this.coarse : this.exact;
    const { scene, scale, region, coarse } = asked;
    const view = JSON.stringify([scene, scale, region, coarse]);
    const easel = { there: sheet.drawn(), leaves: this.leaves, view };
    const picture = await drawStage(questionOf(asked), easel, signal);
    if (!asked.coarse) this.isSlow = performance.now() - begun > SLOW;
    return picture;
  }

  private put(picture: StagePicture, asked: Asked) {
    const { project, scene, region, coarse } = asked;
    this.painted = picture;
    const place = placeOf(sceneOf(project, scene), region);
    if (picture.leaf) {
      this.leaves?.show(picture.leaf, place);
      this.coarse.hide();
      this.exact.clear(coarse ? null : picture, place);
    } else {
      this.leaves?.hide();
      if (coarse) this.coarse.put(picture, place);
      else {
        this.exact.put(picture, place);
        this.coarse.hide();
      }
    }
    this.say(!coarse && same(asked, this.shown), picture);
  }

  /** For whoever looks at the page from outside: whether what is on the canvas is what it is to show, and when it was painted. */
  private say(fresh: boolean, painted?: StagePicture) {
    const { current } = this.canvas;
    if (!current) return;
    current.dataset.picture = fresh ? 'fresh' : '';
    if (!painted) return;
    current.dataset.paintedAt = String(painted.at ?? performance.now());
    current.dataset.drawn = String(Number(current.dataset.drawn ?? 0) + 1);
  }

  /** A canvas over the one that is shown, made when it is needed. */
  private beside(): HTMLCanvasElement | null {
    const { current } = this.canvas;
    if (!current) return null;
    if (this.made?.previousElementSibling !== current) {
      this.made?.remove();
      this.made = document.createElement('canvas');
      this.made.className = current.className;
      this.made.ariaHidden = 'true';
      current.after(this.made);
    }
    return this.made;
  }
}

const pace = { pause: 0 };

/** A canvas, and which picture is on it. */
class CanvasBuffer {
  private there: { drawn: Drawn; on: HTMLCanvasElement } | null = null;

  constructor(private readonly canvas: () => HTMLCanvasElement | null) {}

  /** The picture that is on the canvas, if it is still the same canvas. */
  drawn(): Drawn | null {
    return this.there && this.there.on === this.canvas() ? this.there.drawn : null;
  }

  put(picture: StagePicture, place: Place) {
    const canvas = this.canvas();
    if (!canvas) return;
    putRegions(canvas, picture);
    Object.assign(canvas.style, place);
    canvas.hidden = false;
    this.there = { drawn: picture.drawn, on: canvas };
  }

  /** WorkerCanvases the canvas blank under what is shown over it, and of its size. */
  clear(size: { width: number; height: number } | null, place: Place) {
    const canvas = this.canvas();
    if (!canvas) return;
    const { width, height } = size ?? canvas;
    // Setting a size blanks it.
    if (this.there || canvas.width !== width || canvas.height !== height) {
      canvas.width = width;
      canvas.height = height;
    }
    this.there = null;
    Object.assign(canvas.style, place);
  }

  hide() {
    if (this.there) this.there.on.hidden = true;
  }
}

function questionOf({ project, scene, scale, region, before, only, seen, coarse }: Asked): StageQuestion {
  return {
    project: project as Project,
    scene: scene as string,
    scale: coarse ? scale / 2 : scale,
    region: region ?? undefined,
    coats: before ? 'none' : 'all',
    only: only ?? undefined,
    ...(seen ? JSON.parse(seen) : {}),
  };
}

function same(a: StageRequest, b: StageRequest | null): boolean {
  const keys = ['project', 'scene', 'scale', 'region', 'before', 'only', 'seen'] as const;
  return b !== null && keys.every((key) => a[key] === b[key]);
}

/** Where a picture lies on the scene's sheet. */
type Place = Record<'left' | 'top' | 'width' | 'height', string>;

function placeOf(scene: Scene | undefined, region: SceneRegion | null): Place {
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
