import { useElementSize, useMergedRef } from '@mantine/hooks';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { Scene } from '../../core/client';
import type { SceneRegion } from '../../core/stage';
import { LARGEST, SMALLEST, useView } from '../../session/view';

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
  const fit =
    scene && width > 0 ? inSteps(Math.min(1, (across - 32) / scene.width, (height - 32) / scene.height)) : 0;
  const scale = zoom === 0 ? fit : zoom;
  const onScroll = useCallback(() => {
    if (room.current) setAt({ left: room.current.scrollLeft, top: room.current.scrollTop });
  }, []);
  const about = useZoomAbout(room, scale);
  // What lies under the pointer stays there; without one, the middle of what is seen.
  const last = useRef(scale);
  useEffect(() => {
    const box = room.current;
    if (box && last.current > 0 && scale !== last.current) {
      const factor = scale / last.current;
      const [x, y] = about.current ?? [width / 2, height / 2];
      box.scrollLeft = (box.scrollLeft + x) * factor - x;
      box.scrollTop = (box.scrollTop + y) * factor - y;
    }
    about.current = null;
    last.current = scale;
    useView.setState({ scale });
  }, [scale, width, height, about]);
  const seen = scene && scale > 0 ? inSight(scene, scale, at, width, height) : null;
  // The same region is the same object, so that nothing is asked anew.
  const kept = useRef<SceneRegion | null>(null);
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

/**
 * The next zoom below by steps of a 32nd: pieces that are moved by whole px then lie on few fractions of a pixel, and what was
 * drawn at one of them is drawn again there.
 */
function inSteps(zoom: number): number {
  return Math.floor(zoom * 32) / 32 || zoom;
}

/**
 * Zooms with the wheel while Ctrl is held, which is what two fingers on a touch pad send too, and with two fingers on the
 * stage. What is returned is the place that is zoomed about, in px of the box.
 */
function useZoomAbout(room: RefObject<HTMLDivElement | null>, scale: number) {
  const about = useRef<[number, number] | null>(null);
  const now = useRef(scale);
  now.current = scale;
  useEffect(() => {
    const box = room.current;
    if (!box) return;
    const zoomTo = (zoom: number, x: number, y: number) => {
      const next = Math.min(Math.max(zoom, SMALLEST), LARGEST);
      if (next === now.current) return;
      const { left, top } = box.getBoundingClientRect();
      about.current = [x - left, y - top];
      useView.setState({ zoom: next });
    };
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      const lines = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 30 : 1;
      zoomTo(now.current * Math.exp(-event.deltaY * lines * 0.004), event.clientX, event.clientY);
    };
    let pinched: { apart: number; zoom: number } | null = null;
    const onTouch = (event: TouchEvent) => {
      const [one, other] = event.touches;
      if (!one || !other) {
        pinched = null;
        return;
      }
      event.preventDefault();
      const apart = Math.hypot(one.clientX - other.clientX, one.clientY - other.clientY);
      pinched ??= { apart, zoom: now.current };
      const [x, y] = [(one.clientX + other.clientX) / 2, (one.clientY + other.clientY) / 2];
      zoomTo((pinched.zoom * apart) / pinched.apart, x, y);
    };
    box.addEventListener('wheel', onWheel, { passive: false });
    const touches = ['touchstart', 'touchmove', 'touchend', 'touchcancel'] as const;
    for (const touch of touches) box.addEventListener(touch, onTouch, { passive: false });
    return () => {
      box.removeEventListener('wheel', onWheel);
      for (const touch of touches) box.removeEventListener(touch, onTouch);
    };
  }, [room]);
  return about;
}

/** The part of the scene in sight, in whole px with some room around it; null for all of it. */
function inSight(
  scene: Scene,
  scale: number,
  at: { left: number; top: number },
  width: number,
  height: number,
): SceneRegion | null {
  if (scene.width * scale <= width * 1.5 && scene.height * scale <= height * 1.5) return null;
  // Steps of 64 px of the screen, so that scrolling does not ask anew at every px.
  const step = Math.max(1, Math.ceil(64 / scale));
  const low = (px: number) => Math.max(0, Math.floor(px / scale / step) * step);
  const high = (px: number, end: number) => Math.min(end, Math.ceil(px / scale / step + 1) * step);
  const [x, y] = [low(at.left), low(at.top)];
  return [x, y, high(at.left + width, scene.width) - x, high(at.top + height, scene.height) - y];
}
