import { useElementSize, useMergedRef } from '@mantine/hooks';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Scene } from '../../core/client';
import { useView } from '../../session/view';

export type Region = [number, number, number, number];

/** From this zoom on the device pixels themselves are looked at. */
export const MAGNIFIED = 4;

/** How large the scene is shown, and which part of it is in sight. */
export function useRoom(scene: Scene | undefined, beside: boolean) {
  const zoom = useView((state) => state.zoom);
  const density = useView((state) => state.density);
  const [at, setAt] = useState({ left: 0, top: 0 });
  const { ref: sized, width, height } = useElementSize();
  const room = useRef<HTMLDivElement>(null);
  const ref = useMergedRef(sized, room);
  const across = beside ? width / 2 : width;
  const fit = scene && width > 0 ? Math.min(1, (across - 32) / scene.width, (height - 32) / scene.height) : 0;
  const scale = zoom === 0 ? fit : zoom;
  const onScroll = useCallback(() => {
    if (room.current) setAt({ left: room.current.scrollLeft, top: room.current.scrollTop });
  }, []);
  // The middle of what is seen stays in the middle.
  const last = useRef(scale);
  useEffect(() => {
    const box = room.current;
    if (box && last.current > 0 && scale !== last.current) {
      const factor = scale / last.current;
      box.scrollLeft = (box.scrollLeft + width / 2) * factor - width / 2;
      box.scrollTop = (box.scrollTop + height / 2) * factor - height / 2;
    }
    last.current = scale;
    useView.setState({ scale });
  }, [scale, width, height]);
  const seen = scene && scale > 0 ? inSight(scene, scale, at, width, height) : null;
  // The same region is the same object, so that nothing is asked anew.
  const kept = useRef<Region | null>(null);
  if (kept.current?.join() !== seen?.join()) kept.current = seen;
  const region = kept.current;
  const dense = scale >= MAGNIFIED ? density : Math.min(scale * window.devicePixelRatio, 16);
  // The sheet begins at a whole px, so that what the browser draws on it lies on the same pixels as the core's picture.
  const inset = (room: number, length: number) => Math.max(0, Math.floor((room - length * scale) / 2));
  const margins =
    scene && !beside
      ? `${inset(height, scene.height)}px auto auto ${inset(width, scene.width)}px`
      : undefined;
  return { ref, onScroll, scale, region, dense, margins };
}

/** The part of the scene in sight, in whole px with some room around it; null for all of it. */
function inSight(
  scene: Scene,
  scale: number,
  at: { left: number; top: number },
  width: number,
  height: number,
): Region | null {
  if (scene.width * scale <= width * 1.5 && scene.height * scale <= height * 1.5) return null;
  // Steps of 64 px of the screen, so that scrolling does not ask anew at every px.
  const step = Math.max(1, Math.ceil(64 / scale));
  const low = (px: number) => Math.max(0, Math.floor(px / scale / step) * step);
  const high = (px: number, end: number) => Math.min(end, Math.ceil(px / scale / step + 1) * step);
  const [x, y] = [low(at.left), low(at.top)];
  return [x, y, high(at.left + width, scene.width) - x, high(at.top + height, scene.height) - y];
}
