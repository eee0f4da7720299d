import { VisuallyHidden } from '@mantine/core';
import { type KeyboardEvent, useEffect, useRef } from 'react';
import type { Scene } from '../../core/client';
import { words } from '../../messages';
import classes from './Handles.module.css';

export interface Spot {
  /** On the scene, in px. */
  x: number;
  y: number;
}

interface Props {
  /** What it is for. */
  name: string;
  /** What lies there, said as it moves. */
  says?: string;
  at: Spot;
  scene: Scene;
  scale: number;
  onMove: (to: Spot) => void;
  /** Enter or Space. */
  onTake: () => void;
}

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The middle of a scene: where aiming begins. */
export function middleOf({ width, height }: Scene): Spot {
  return { x: Math.round(width / 2), y: Math.round(height / 2) };
}

/**
 * A cross on the stage for what a pointer does otherwise: arrows move it by 1 px, with Shift by 10, with Alt by a tenth. It
 * has the focus as soon as its tool is taken.
 */
export function Aim({ name, says, at, scene, scale, onMove, onTake }: Props) {
  const cross = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const take = () => cross.current?.focus({ preventScroll: true });
    take();
    // A menu that the tool was taken from gives the focus back to what opened it.
    const again = window.setTimeout(take, 80);
    return () => window.clearTimeout(again);
  }, []);
  const onKeyDown = (event: KeyboardEvent) => {
    const [right, down] = arrows[event.key] ?? [0, 0];
    const moves = right !== 0 || down !== 0;
    if (!moves && event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    event.stopPropagation();
    if (!moves) return onTake();
    const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const within = (to: number, most: number) => Math.min(most, Math.max(0, Math.round(to * 10) / 10));
    onMove({ x: within(at.x + right * by, scene.width), y: within(at.y + down * by, scene.height) });
    cross.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  };
  return (
    <>
      <button
        ref={cross}
        type="button"
        aria-label={name}
        aria-description={words.stage.aimKeys}
        className={classes.aim}
        style={{ left: at.x * scale, top: at.y * scale }}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => event.stopPropagation()}
      />
      <VisuallyHidden role="status">
        {words.stage.at(at.x, at.y)} {says}
      </VisuallyHidden>
    </>
  );
}
