import { useEffect, useRef, useState } from 'react';
import type { Project, Scene } from '../../api/client';
import { onlyScene, sceneOf } from '../../document/store';
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

/** Keeps a canvas showing the newest picture: one request at a time, always for the latest document. */
export function usePicture({ project, scene, scale, region, before, only, seen }: Shown) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const waiting = useRef<{ question: object; place: Place } | null>(null);
  const busy = useRef(false);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => {
    if (!project || !scene || scale <= 0) return;
    const place = placeOf(sceneOf(project, scene), region);
    const question = {
      project: onlyScene(project, scene),
      scene,
      scale,
      region: region ?? undefined,
      coats: before ? 'none' : 'all',
      only: only ?? undefined,
      ...(seen ? JSON.parse(seen) : {}),
    };
    waiting.current = { question, place };
    const pump = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current) {
        const next = waiting.current;
        waiting.current = null;
        try {
          await paint(canvas.current, next.question, next.place);
          setFailure(null);
        } catch (error) {
          setFailure(error instanceof TypeError ? 'The service does not answer.' : (error as Error).message);
          // A busy or absent service is asked again, unless there is something newer to ask.
          if (error instanceof TypeError || (error as Failure).status === 503) {
            await new Promise((resolve) => window.setTimeout(resolve, 500));
            waiting.current ??= next;
          }
        }
      }
      busy.current = false;
    };
    void pump();
  }, [project, scene, scale, before, only, region, seen]);
  return { canvas, failure };
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

async function paint(canvas: HTMLCanvasElement | null, question: object, place: Place) {
  const response = await fetch('/api/preview', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
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
  Object.assign(canvas.style, place);
  canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
}
