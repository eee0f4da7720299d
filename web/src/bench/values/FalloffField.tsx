import { NativeSelect } from '@mantine/core';
import { dequal } from 'dequal';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Schemas } from '../../core/client';
import { defaults, falloffs } from '../../core/constants';
import { words } from '../../messages';
import { drag } from '../../parts/drag';
import { NumberField } from '../../parts/NumberField';
import { Quiet } from '../../parts/Quiet';
import { steady } from '../../parts/steady';
import { commit } from '../../session/store';
import { Row } from './fields';
import classes from './values.module.css';

type Falloff = Schemas['Falloff'];
type Point = Schemas['FalloffPoint'];

interface Props {
  value: Falloff | null | undefined;
  onChange: (falloff: Falloff | null, gesture: boolean) => void;
}

const SIDE = 120;
/** How a shadow falls from full to none: a curve from blurred coverage to what is drawn of it. */
export const FalloffField = steady(function FalloffField({ value, onChange }: Props) {
  const same = falloffs.find((preset) => dequal(preset.points, value?.points));
  const name = value ? (same?.name ?? words.values.custom) : words.values.none;
  const choose = (chosen: string) => {
    const preset = falloffs.find((other) => other.name === chosen);
    onChange(
      preset ? { points: preset.points } : chosen === words.values.none ? null : defaults.falloff,
      false,
    );
  };
  const names = [words.values.none, ...falloffs.map((preset) => preset.name), words.values.custom];
  return (
    <>
      <Row label={words.values.falloff}>
        <NativeSelect
          size="xs"
          aria-label={words.values.falloff}
          value={name}
          data={names}
          onChange={(event) => choose(event.currentTarget.value)}
        />
      </Row>
      {value && <Curve points={value.points} onChange={(points) => onChange({ points }, true)} />}
    </>
  );
});

/** The curve itself: drag a point, click the line for one more, Delete takes one away; or all of it by numbers. */
function Curve({ points, onChange }: { points: Point[]; onChange: (points: Point[]) => void }) {
  const plot = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, points.length - 1);
  const point = points[at];
  const x = (from: number) => from * SIDE;
  const y = (to: number) => (1 - to) * SIDE;
  const between = (i: number, from: number) =>
    Math.min(points[i + 1]?.from ?? 1, Math.max(points[i - 1]?.from ?? 0, from));
  const put = (i: number, to: Point) =>
    onChange(
      points.map((point, at) => (at === i ? { from: tidy(between(i, to.from)), to: tidy(to.to) } : point)),
    );
  const hold = (i: number, event: PointerEvent) => {
    const start = points[i];
    const width = plot.current?.getBoundingClientRect().width ?? SIDE;
    if (!start) return;
    drag(event, width, (dx, dy) => put(i, { from: start.from + dx, to: start.to - dy }));
  };
  const press = (i: number, event: KeyboardEvent) => {
    const point = points[i];
    const step = event.shiftKey ? 0.1 : 0.01;
    const moves: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const [right, up] = moves[event.key] ?? [0, 0];
    if (point && (right !== 0 || up !== 0)) {
      event.preventDefault();
      event.stopPropagation();
      put(i, { from: point.from + right, to: point.to + up });
    }
    if (event.key === 'Delete' || event.key === 'Backspace') {
      // The key means the point, and never the coat it belongs to.
      event.preventDefault();
      event.stopPropagation();
      if (points.length > 2) remove(i);
    }
  };
  const remove = (i: number) => {
    onChange(points.filter((_, other) => other !== i));
    commit();
    setChosen(Math.max(0, i - 1));
    plot.current?.querySelectorAll<SVGElement>('[role=slider]')[Math.max(0, i - 1)]?.focus();
  };
  // In the middle of the widest gap, on the line.
  const insert = () => {
    const ends = [{ from: 0, to: points[0]?.to ?? 0 }, ...points, { from: 1, to: points.at(-1)?.to ?? 1 }];
    const gaps = ends.slice(1).map((end, i) => end.from - (ends[i]?.from ?? 0));
    const widest = gaps.indexOf(Math.max(...gaps));
    const [left, right] = [ends[widest], ends[widest + 1]];
    if (!left || !right) return;
    const middle = { from: tidy((left.from + right.from) / 2), to: tidy((left.to + right.to) / 2) };
    onChange([...points.slice(0, widest), middle, ...points.slice(widest)]);
    commit();
    setChosen(widest);
  };
  const add = (event: PointerEvent<SVGPathElement>) => {
    const box = plot.current?.getBoundingClientRect();
    if (!box) return;
    const point = {
      from: tidy((event.clientX - box.left) / box.width),
      to: tidy(1 - (event.clientY - box.top) / box.height),
    };
    onChange([...points, point].sort((a, b) => a.from - b.from));
    commit();
  };
  const line = points.map((point, i) => `${i === 0 ? 'M' : 'L'}${x(point.from)} ${y(point.to)}`).join('');
  const whole = `M0 ${y(points[0]?.to ?? 0)}L${line.slice(1)}L${SIDE} ${y(points.at(-1)?.to ?? 1)}`;
  return (
    <div className={classes.curve}>
      <svg ref={plot} viewBox={`0 0 ${SIDE} ${SIDE}`} className={classes.plot}>
        <title>{words.values.falloffPlot}</title>
        <path d={`M0 ${SIDE}L${SIDE} 0`} className={classes.straight} />
        <path d={whole} className={classes.line1} />
        <path d={whole} className={classes.hit} onPointerDown={add} />
        {points.map((point, i) => (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: points have no identity but their order
            key={i}
            role="slider"
            tabIndex={0}
            aria-label={words.values.falloffPoint(i + 1)}
            aria-valuenow={point.to}
            aria-valuetext={words.values.fromTo(point.from, point.to)}
            cx={x(point.from)}
            cy={y(point.to)}
            r={5}
            className={classes.point}
            data-chosen={i === at || undefined}
            onFocus={() => setChosen(i)}
            onPointerDown={(event) => {
              setChosen(i);
              hold(i, event);
            }}
            onKeyDown={(event) => press(i, event)}
            onKeyUp={(event) => event.key.startsWith('Arrow') && commit()}
          />
        ))}
      </svg>
      {point && (
        <div className={classes.pointValues}>
          {(['from', 'to'] as const).map((end) => (
            <NumberField
              key={end}
              compact
              label={words.values.falloffEnds[end]}
              name={words.values.falloffEndOf(words.values.falloffEnds[end], at + 1)}
              unit="%"
              value={Math.round(point[end] * 1000) / 10}
              min={0}
              max={100}
              onChange={(percent) => put(at, { ...point, [end]: percent / 100 })}
              onCommit={commit}
            />
          ))}
          <Quiet fz={12} px={2} onClick={insert}>
            {words.values.addPoint}
          </Quiet>
          <Quiet fz={12} px={2} disabled={points.length <= 2} onClick={() => remove(at)}>
            {words.values.removePoint}
          </Quiet>
        </div>
      )}
      <p className={classes.hint}>{words.values.falloffHint}</p>
    </div>
  );
}

function tidy(value: number): number {
  return Math.min(1, Math.max(0, Math.round(value * 1000) / 1000));
}
