import { Button, Text } from '@mantine/core';
import { type PointerEvent, useState } from 'react';
import type { Scene } from '../../core/client';
import { words } from '../../messages';
import { drag } from '../../parts/drag';
import classes from './Handles.module.css';
import { useToolEscape } from './useToolEscape';

interface Span {
  from: [number, number];
  by: [number, number];
}

/** Measures a distance on the stage or on the reference over it. */
export function MeasureTool({ scene, scale }: { scene: Scene; scale: number }) {
  const [span, setSpan] = useState<Span | null>(null);
  const leave = useToolEscape();
  const press = (event: PointerEvent<HTMLDivElement>) => {
    const edge = event.currentTarget.getBoundingClientRect();
    const from: [number, number] = [(event.clientX - edge.left) / scale, (event.clientY - edge.top) / scale];
    drag(event, scale, (dx, dy, now) => {
      const straight: [number, number] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      setSpan({ from, by: now.shiftKey ? straight : [dx, dy] });
    });
  };
  const tidy = (length: number) => Math.round(length * 10) / 10;
  return (
    <>
      <div className={classes.sheet} onPointerDown={press} />
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
