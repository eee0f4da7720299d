import { SegmentedControl, Text } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useEffect, useRef, useState } from 'react';
import type { Project, Scene, Schemas } from '../api/client';
import { editPiece } from '../document/pieces';
import { choosePiece, onlyScene, pieceOf, rest, sceneOf, useDocument } from '../document/store';
import { LightDial } from './LightDial';
import classes from './Stage.module.css';

interface Props {
  before: boolean;
  only: string | null;
  boxes: Schemas['PieceThumbnail'][];
}

const zooms = ['Fit', '50 %', '100 %', '200 %', '400 %'];

/** The scene as the core draws it. */
export function Stage({ before, only, boxes }: Props) {
  const document = useDocument((state) => state.document);
  const sceneId = useDocument((state) => state.scene);
  const piece = useDocument((state) => state.piece);
  const [zoom, setZoom] = useState('Fit');
  const { ref, width, height } = useElementSize();
  const scene = sceneOf(document, sceneId);
  const fit = scene && width > 0 ? Math.min(1, (width - 32) / scene.width, (height - 32) / scene.height) : 0;
  const scale = zoom === 'Fit' ? fit : Number.parseInt(zoom, 10) / 100;
  const { canvas, failure } = usePicture(document, sceneId, scale, before, only);
  const box = boxes.find((other) => other.id === piece);
  const chosen = pieceOf(scene, piece);
  const hand = useHand(scene, boxes, scale);
  return (
    <section aria-label="Stage" className={classes.stage}>
      <div className={classes.scroll} ref={ref}>
        {scene && scale > 0 && (
          <div
            className={classes.sheet}
            style={{ width: scene.width * scale, height: scene.height * scale }}
            {...hand}
          >
            <canvas ref={canvas} className={classes.picture} />
            {box && (
              <span
                className={classes.chosen}
                style={{
                  left: (chosen?.x ?? box.x) * scale,
                  top: (chosen?.y ?? box.y) * scale,
                  width: box.w * scale,
                  height: box.h * scale,
                }}
              />
            )}
          </div>
        )}
      </div>
      {failure && (
        <Text role="alert" className={classes.failure}>
          {failure} The picture is the last one that could be drawn; your work is kept.
        </Text>
      )}
      {before && <Text className={classes.badge}>Before: no coats</Text>}
      <LightDial />
      <div className={classes.zoom}>
        <SegmentedControl size="xs" aria-label="Zoom" value={zoom} onChange={setZoom} data={zooms} />
      </div>
    </section>
  );
}

/** Choosing a piece by a click, moving it by a drag. From the keyboard, both are done on the shelf and in its values. */
function useHand(scene: Scene | undefined, boxes: Schemas['PieceThumbnail'][], scale: number) {
  const held = useRef<{ id: string; x: number; y: number; left: number; top: number; moved: boolean } | null>(
    null,
  );
  return {
    onPointerDown: (event: React.PointerEvent) => {
      const edge = event.currentTarget.getBoundingClientRect();
      const x = (event.clientX - edge.left) / scale;
      const y = (event.clientY - edge.top) / scale;
      const shown = boxes.filter((b) => !pieceOf(scene, b.id)?.hidden);
      const under = shown.filter((b) => b.x <= x && x < b.x + b.w && b.y <= y && y < b.y + b.h).at(-1);
      choosePiece(under?.id ?? null);
      if (!under) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { id: under.id, x, y, left: under.x, top: under.y, moved: false };
    },
    onPointerMove: (event: React.PointerEvent) => {
      const hold = held.current;
      if (!hold) return;
      const edge = event.currentTarget.getBoundingClientRect();
      const dx = (event.clientX - edge.left) / scale - hold.x;
      const dy = (event.clientY - edge.top) / scale - hold.y;
      hold.moved ||= Math.hypot(dx, dy) * scale > 4;
      if (!hold.moved) return;
      // With Shift a piece keeps to the line it is dragged along.
      const [across, down] = !event.shiftKey ? [dx, dy] : Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      editPiece(
        hold.id,
        (piece) => {
          piece.x = Math.round(hold.left + across);
          piece.y = Math.round(hold.top + down);
        },
        true,
      );
    },
    onPointerUp: () => {
      held.current = null;
      rest();
    },
  };
}

interface Failure extends Error {
  status?: number;
}

/** Keeps a canvas showing the newest picture: one request at a time, always for the latest document. */
function usePicture(
  project: Project | null,
  scene: string | null,
  scale: number,
  before: boolean,
  only: string | null,
) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const waiting = useRef<object | null>(null);
  const busy = useRef(false);
  const [failure, setFailure] = useState<string | null>(null);
  useEffect(() => {
    if (!project || !scene || scale <= 0) return;
    const dense = Math.min(scale * window.devicePixelRatio, 16);
    waiting.current = {
      project: onlyScene(project, scene),
      scene,
      scale: dense,
      coats: before ? 'none' : 'all',
      only: only ?? undefined,
    };
    const pump = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current) {
        const question = waiting.current;
        waiting.current = null;
        try {
          await paint(canvas.current, question);
          setFailure(null);
        } catch (error) {
          setFailure(error instanceof TypeError ? 'The service does not answer.' : (error as Error).message);
          // A busy or absent service is asked again, unless there is something newer to ask.
          if (error instanceof TypeError || (error as Failure).status === 503) {
            await new Promise((resolve) => window.setTimeout(resolve, 500));
            waiting.current ??= question;
          }
        }
      }
      busy.current = false;
    };
    void pump();
  }, [project, scene, scale, before, only]);
  return { canvas, failure };
}

async function paint(canvas: HTMLCanvasElement | null, question: object) {
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
  canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
}
