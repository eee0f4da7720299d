import { Button, Text } from '@mantine/core';
import { type PointerEvent, useState } from 'react';
import type { Scene } from '../../core/client';
import { words } from '../../messages';
import { drag } from '../../parts/drag';
import { Aim, middleOf, type Spot } from './Aim';
import classes from './Handles.module.css';
import { useToolEscape } from './useToolEscape';

interface Span {
  from: [number, number];
  by: [number, number];
}

/** Measures a distance on the stage or on the reference over it: by a drag, by two clicks, or by keys. */
export function MeasureTool({ scene, scale }: { scene: Scene; scale: number }) {
  const [span, setSpan] = useState<Span | null>(null);
  // The first of two clicks was made; the next one ends there.
  const [begun, setBegun] = useState(false);
  const [aim, setAim] = useState(() => middleOf(scene));
  const leave = useToolEscape();
  const to = ({ x, y }: Spot) => span && setSpan({ ...span, by: [x - span.from[0], y - span.from[1]] });
  const take = (at: Spot) => {
    setAim(at);
    if (begun) to(at);
    else setSpan({ from: [at.x, at.y], by: [0, 0] });
    setBegun(!begun);
  };
  const press = (event: PointerEvent<HTMLDivElement>) => {
    const edge = event.currentTarget.getBoundingClientRect();
    const at = { x: (event.clientX - edge.left) / scale, y: (event.clientY - edge.top) / scale };
    take(at);
    drag(event, scale, (dx, dy, now) => {
      if (Math.hypot(dx, dy) * scale < 4) return;
      const straight: [number, number] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      setSpan({ from: [at.x, at.y], by: now.shiftKey ? straight : [dx, dy] });
      setBegun(false);
    });
  };
  const tidy = (length: number) => Math.round(length * 10) / 10;
  return (
    <>
      <div
        className={classes.sheet}
        onPointerDown={press}
        onPointerMove={(event) => {
          const edge = event.currentTarget.getBoundingClientRect();
          if (begun && event.buttons === 0) {
            to({ x: (event.clientX - edge.left) / scale, y: (event.clientY - edge.top) / scale });
          }
        }}
      />
      <Aim
        name={begun ? words.stage.aimEnd : words.stage.aimStart}
        at={aim}
        scene={scene}
        scale={scale}
        onMove={(at) => {
          setAim(at);
          if (begun) to(at);
        }}
        onTake={() => take(aim)}
      />
      {span && (
        <>
          <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
            <path d={`M${span.from}l${span.by}`} className={classes.casing} />
            <path d={`M${span.from}l${span.by}`} className={classes.edge} />
          </svg>
          <output
            className={classes.said}
            style={{
              left: (span.from[0] + span.by[0]) * scale + 10,
              top: (span.from[1] + span.by[1]) * scale + 10,
              zIndex: 4,
            }}
          >
            {words.stage.pxAcrossDown(
              tidy(Math.hypot(...span.by)),
              tidy(Math.abs(span.by[0])),
              tidy(Math.abs(span.by[1])),
            )}
          </output>
        </>
      )}
      <div className={classes.note} onPointerDown={(event) => event.stopPropagation()}>
        <Text size="xs">{words.stage.measureHint}</Text>
        <Button size="compact-xs" variant="default" mt={4} onClick={leave}>
          {words.stage.done}
        </Button>
      </div>
    </>
  );
}
