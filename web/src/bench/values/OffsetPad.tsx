import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Schemas } from '../../core/client';
import { words } from '../../messages';
import { drag, type Moving } from '../../parts/drag';
import { sceneOf } from '../../session/lookup';
import { lightsIn } from '../../session/shared';
import { commit, useDocument } from '../../session/store';
import { draggedOffset } from '../stage/dragged';
import classes from './OffsetPad.module.css';

type Offset = Schemas['Offset'];
type Both = Schemas['ResolvedOffset'];

interface Props {
  offset: Offset;
  both: Both;
  /** What tells it from another in the same coat. */
  name?: string;
  onChange: (offset: Offset, gesture: boolean) => void;
}

/** Width and height of the pad, in px. */
const [WIDTH, HEIGHT] = [84, 66];
/** From the middle to where the scale ends. */
const REACH = 27;

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The offset as a point under its light; its scale grows with it. */
export function OffsetPad({ offset, both, name, onChange }: Props) {
  const document = useDocument((state) => state.document);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  // While it is dragged the scale stays as it was.
  const [held, setHeld] = useState<number | null>(null);
  const start = useRef(both);
  const scale = held ?? scaleOf(both);
  const px = REACH / scale;
  const turned = !('x' in offset);
  const inside = (at: number, end: number) => Math.min(end - 5, Math.max(5, at));
  const point = { x: inside(WIDTH / 2 + both.x * px, WIDTH), y: inside(HEIGHT / 2 + both.y * px, HEIGHT) };
  const take = (event: PointerEvent) => {
    start.current = both;
    setHeld(scale);
    const lights = document ? lightsIn(document, theme) : [];
    const { x, y } = both;
    const move: Moving = (dx, dy, now, ask) =>
      ask(draggedOffset(offset, start.current, [x + dx, y + dy], lights, px, now), (there) =>
        onChange(there, true),
      );
    drag(event, px, move, () => setHeld(null));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const way = arrows[event.key];
    if (!way) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    const to = (from: number, step: number) => Number((from + step * by).toFixed(2));
    onChange({ x: to(both.x, way[0]), y: to(both.y, way[1]) }, true);
  };
  return (
    <div className={classes.pad}>
      <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
        <circle cx={WIDTH / 2} cy={HEIGHT / 2} r={1.5} className={classes.middle} />
        {turned && (
          <g transform={`rotate(${both.bearing} ${WIDTH / 2} ${HEIGHT / 2})`}>
            <path
              d={`M${WIDTH / 2} ${HEIGHT / 2 - REACH}v${REACH + both.distance * px}`}
              className={classes.ray}
            />
            <circle cx={WIDTH / 2} cy={HEIGHT / 2 - REACH} r={5} className={classes.lamp} />
          </g>
        )}
      </svg>
      <span
        role="slider"
        tabIndex={0}
        aria-label={name ? words.values.offset(name) : words.values.offsetOfCoat}
        aria-valuenow={Math.round(both.distance)}
        aria-valuetext={words.values.xPxYPx(both.x, both.y)}
        className={classes.point}
        style={{ left: point.x, top: point.y }}
        onPointerDown={take}
        onKeyDown={onKeyDown}
        onKeyUp={(event) => arrows[event.key] && commit()}
      />
      <span className={classes.scale}>{words.values.scale(scale)}</span>
    </div>
  );
}

/** How many px the pad shows to each side: 10, or as often doubled as the offset needs. */
function scaleOf({ x, y }: Both): number {
  let scale = 10;
  while (scale < Math.max(Math.abs(x), Math.abs(y)) * 1.2 && scale < 20_000) scale *= 2;
  return scale;
}
