import { type KeyboardEvent, type PointerEvent, type RefObject, useRef, useState } from 'react';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { follow } from '../parts/drag';
import { useView } from '../session/view';
import classes from './EdgeProfile.module.css';
import { type Pulling, takeHold } from './pulling';

interface Props {
  profile: Schemas['Profile'];
  /** The curve of all coats as path data. */
  curve: string;
  /** From px and % to the plot. */
  x: (at: number) => number;
  y: (darkness: number) => number;
  svg: RefObject<SVGSVGElement | null>;
}

/** The line that a profile was measured along, for questions about it. */
export function lineOf({ bearing }: Schemas['Profile']): Schemas['Line'] {
  return useView.getState().line ?? { x: 0, y: 0, bearing };
}

/** The curve of all coats as something to take hold of: pulled up or down at any place, by pointer or by keys. */
export function ProfileHandle({ profile, curve, x, y, svg }: Props) {
  const [at, setAt] = useState(4);
  const pulled = useRef<{ by: Pulling; darkness: number } | null>(null);
  const { samples } = profile;
  const [first, last] = [samples[0]?.at ?? 0, samples.at(-1)?.at ?? 0];
  const place = Math.min(last, Math.max(first, at));
  const darkness = samples.find((sample) => sample.at >= place)?.darkness ?? 0;
  const take = (event: PointerEvent<SVGElement>) => {
    const box = svg.current?.getBoundingClientRect();
    if (event.button !== 0 || !box) return;
    event.preventDefault();
    const px = (last - first) / (x(last) - x(first));
    const taken = Math.round(first + (event.clientX - box.left - x(first)) * px);
    setAt(taken);
    const pulling = takeHold(lineOf(profile));
    if (!pulling) return;
    const from = samples.find((sample) => sample.at >= taken)?.darkness ?? 0;
    const percent = 1 / (y(0) - y(1));
    const top = event.clientY;
    follow(event, {
      move: (moved) => pulling.to(taken, from + (top - moved.clientY) * percent),
      end: (released) => pulling.end(released),
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const along = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!along && !up) return;
    event.preventDefault();
    if (along) setAt(Math.min(last, Math.max(first, place + along * (event.shiftKey ? 10 : 1))));
    if (!up) return;
    if (!pulled.current) {
      const by = takeHold(lineOf(profile));
      pulled.current = by && { by, darkness };
    }
    const now = pulled.current;
    if (!now) return;
    now.darkness += up * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
    now.by.to(place, now.darkness);
  };
  const onKeyUp = (event: KeyboardEvent) => {
    // What is pulled ends when the last answer is there, not with the key.
    event.stopPropagation();
    release();
  };
  const release = () => {
    pulled.current?.by.end(true);
    pulled.current = null;
  };
  return (
    <>
      <path d={curve} className={classes.pull} onPointerDown={take} />
      <circle
        role="slider"
        tabIndex={0}
        aria-label={words.bench.darknessOfProfile}
        aria-valuemin={-100}
        aria-valuemax={100}
        aria-valuenow={Math.round(darkness)}
        aria-valuetext={words.bench.darknessAt(darkness, place)}
        cx={x(place)}
        cy={y(darkness)}
        r={4}
        className={classes.grip}
        onPointerDown={take}
        onKeyDown={onKeyDown}
        onKeyUp={onKeyUp}
        onBlur={release}
      >
        <title>{words.bench.pullTheCurve}</title>
      </circle>
    </>
  );
}
