import { Button, Group, Text } from '@mantine/core';
import { type PointerEvent, useEffect, useState } from 'react';
import type { Scene } from '../../core/client';
import { words } from '../../messages';
import { drag } from '../../parts/drag';
import { addPieceAt } from '../../session/pieces';
import { useView } from '../../session/view';
import { Aim, middleOf, type Spot } from './Aim';
import classes from './Handles.module.css';

interface Point {
  x: number;
  y: number;
  /** The curve's tangent runs to here and, mirrored, from the other side; none at a corner. */
  arm: { x: number; y: number } | null;
}

/**
 * Draws a closed path: a click, or Space at the cross, sets a corner, a press and drag a smooth point; closing it makes a
 * piece of it.
 */
export function PointsTool({ scene, scale }: { scene: Scene; scale: number }) {
  const [points, setPoints] = useState<Point[]>([]);
  const [aim, setAim] = useState(() => middleOf(scene));
  const leave = () => useView.setState({ tool: 'hand' });
  const finish = () => {
    if (points.length > 2) {
      const box = boundsOf(points);
      addPieceAt(
        words.stage.path,
        { kind: 'path', d: pathOf(moved(points, box)), viewbox: [0, 0, box.w, box.h], w: box.w, h: box.h },
        box,
      );
      leave();
    }
  };
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      // A field or a button of the tool that has the focus has the key for itself.
      const { target } = event;
      if (target instanceof Element && target.closest('input, textarea, select, [data-note]')) return;
      if (event.key === 'Enter' && points.length > 2) finish();
      else if (event.key === 'Escape' && points.length === 0) leave();
      else if (['Escape', 'Backspace'].includes(event.key) || turnsBack(event)) {
        setPoints((now) => now.slice(0, -1));
      } else return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener('keydown', onKeyDown, true);
    return () => window.removeEventListener('keydown', onKeyDown, true);
  });
  const set = ({ x, y }: Spot) => {
    const place = { x: Math.round(x), y: Math.round(y) };
    setAim(place);
    setPoints([...points, { ...place, arm: null }]);
  };
  // Without a drag the last point is made smooth along its neighbours.
  const smooth = () =>
    setPoints((now) => {
      const [last, before, next] = [now.at(-1), now.at(-2), now[0]];
      if (!last || !before || !next) return now;
      const arm = { x: Math.round((next.x - before.x) / 4), y: Math.round((next.y - before.y) / 4) };
      return [...now.slice(0, -1), { ...last, arm: last.arm ? null : arm }];
    });
  const press = (event: PointerEvent<HTMLDivElement>) => {
    const edge = event.currentTarget.getBoundingClientRect();
    const at = { x: (event.clientX - edge.left) / scale, y: (event.clientY - edge.top) / scale };
    const [first] = points;
    if (first && points.length > 2 && Math.hypot(first.x - at.x, first.y - at.y) * scale < 9) {
      event.stopPropagation();
      return finish();
    }
    set(at);
    drag(event, scale, (dx, dy) => {
      if (Math.hypot(dx, dy) * scale < 5) return;
      const arm = { x: Math.round(dx), y: Math.round(dy) };
      setPoints((now) => now.map((point, i) => (i === now.length - 1 ? { ...point, arm } : point)));
    });
  };
  return (
    <>
      <div className={classes.sheet} onPointerDown={press} />
      <Aim
        name={words.stage.aimPoint(points.length + 1)}
        at={aim}
        scene={scene}
        scale={scale}
        onMove={setAim}
        onTake={() => set(aim)}
      />
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={pathOf(points)} className={classes.casing} />
        <path d={pathOf(points)} className={classes.edge} />
        {points.map((point, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: points have no identity but their order
          <circle key={i} cx={point.x} cy={point.y} r={(i === 0 ? 6 : 4) / scale} className={classes.dot} />
        ))}
      </svg>
      <div className={classes.note} data-note onPointerDown={(event) => event.stopPropagation()}>
        <Text size="xs">{words.stage.pointsHint}</Text>
        <Group gap={6} mt={4}>
          <Button size="compact-xs" disabled={points.length < 3} onClick={finish}>
            {words.stage.closeThePath}
          </Button>
          <Button size="compact-xs" variant="default" disabled={points.length < 2} onClick={smooth}>
            {words.stage.smoothPoint}
          </Button>
          <Button size="compact-xs" variant="default" onClick={leave}>
            {words.common.cancel}
          </Button>
        </Group>
      </div>
    </>
  );
}

/** Ctrl and Z: what is being drawn is what was done last. */
function turnsBack({ key, ctrlKey, metaKey }: KeyboardEvent): boolean {
  return (ctrlKey || metaKey) && key.toLowerCase() === 'z';
}

/** SVG path data of the closed line through the points. */
function pathOf(points: Point[]): string {
  const [first] = points;
  if (!first) return '';
  let d = `M${first.x} ${first.y}`;
  points.forEach((from, i) => {
    const to = points[i + 1] ?? first;
    if (!from.arm && !to.arm) d += `L${to.x} ${to.y}`;
    else {
      const [a, b] = [from.arm ?? { x: 0, y: 0 }, to.arm ?? { x: 0, y: 0 }];
      d += `C${from.x + a.x} ${from.y + a.y} ${to.x - b.x} ${to.y - b.y} ${to.x} ${to.y}`;
    }
  });
  return `${d}Z`;
}

/** The box around a path. */
function boundsOf(points: Point[]) {
  const path = document.createElementNS('http://www.w3.org/2000/svg', 'path');
  const svg = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  path.setAttribute('d', pathOf(points));
  svg.append(path);
  document.body.append(svg);
  const { x, y, width, height } = path.getBBox();
  svg.remove();
  const tidy = (value: number) => Math.round(value * 100) / 100;
  return { x: tidy(x), y: tidy(y), w: Math.max(1, tidy(width)), h: Math.max(1, tidy(height)) };
}

function moved(points: Point[], by: { x: number; y: number }): Point[] {
  return points.map((point) => ({ ...point, x: point.x - by.x, y: point.y - by.y }));
}
