import type { PointerEvent } from 'react';
import type { Coat, Schemas } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { drag, type Moving, rounded } from '../../parts/drag';
import { finer } from '../../parts/NumberField';
import { changeCoat } from '../../session/coats';
import { lightsIn } from '../../session/shared';
import { draggedOffset } from './dragged';
import classes from './Handles.module.css';
import { type HandleProps, within } from './handle';
import { Knob } from './Knob';
import type { End } from './shadowEnds';
import type { Tagged } from './Tag';
import { Tags } from './Tags';
import type { Box } from './tagPlace';

/** Outlines under the pointer: the edge sets the spread, where it has faded out sets the blur. */
export function EndGrips({ end, coat, scale }: HandleProps & { end: End }) {
  const { lengths, trace, handle } = end;
  if (!lengths || !trace) return null;
  const middle = handle.at;
  const pull = (start: number, range: [number, number], set: (value: number) => Partial<Coat>) => {
    return (event: PointerEvent<SVGPathElement>) => {
      const sheet = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
      if (!sheet) return;
      const out = {
        x: (event.clientX - sheet.left) / scale - middle.x,
        y: (event.clientY - sheet.top) / scale - middle.y,
      };
      const length = Math.hypot(out.x, out.y) || 1;
      const [x, y] = [out.x / length, out.y / length];
      drag(event, scale, (dx, dy, now) => {
        const grown =
          (finer((dx * x + dy * y) * scale, (dx * y - dy * x) * scale) / scale) * (lengths.inner ? -1 : 1);
        changeCoat(coat, set(within(rounded(start + grown, now), ...range)));
      });
    };
  };
  return (
    <>
      {trace.faded && (
        <path
          d={trace.faded}
          className={classes.grip}
          style={{ cursor: 'nwse-resize' }}
          data-handle={words.stage.blur(end.name)}
          onPointerDown={pull(lengths.blur, ranges.BlurRadius, (blur) => end.set({ blur }))}
        />
      )}
      <path
        d={trace.edge}
        className={classes.grip}
        style={{ cursor: 'ew-resize' }}
        data-handle={words.stage.spread(end.name)}
        onPointerDown={pull(lengths.spread, ranges.Spread, (spread) => end.set({ spread }))}
      />
    </>
  );
}

export function EndKnob({
  end,
  document,
  scene,
  coat,
  piece,
  size,
  others,
  scale,
}: HandleProps & { end: End }) {
  const { both, offset, handle } = end;
  const { at, from } = handle;
  const limit = (value: number) => within(value, ...ranges.OffsetPx);
  const hold = (): Moving => (dx, dy, event, ask) => {
    const to: [number, number] = [limit(both.x + dx), limit(both.y + dy)];
    ask(draggedOffset(offset, both, to, lightsIn(document, scene.theme), scale, event), (there) =>
      changeCoat(coat, end.set({ offset: there })),
    );
  };
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={`M${from.x} ${from.y}L${at.x} ${at.y}`} className={classes.arm} />
      </svg>
      <Knob name={words.stage.offsetOf(end.name)} x={at.x} y={at.y} scale={scale} onHold={hold} />
      <Tags
        of={tagsOf(end, coat)}
        about={around({ ...piece, ...size }, end)}
        others={others}
        scene={scene}
        scale={scale}
      />
    </>
  );
}

/** The piece with the shadow, as far as that is seen. */
function around({ x, y, w, h }: Box, { both, lengths }: End): Box {
  const grown = lengths && !lengths.inner ? Math.max(0, lengths.spread + lengths.blur) : 0;
  const [left, top] = [Math.min(x, x + both.x - grown), Math.min(y, y + both.y - grown)];
  const [right, bottom] = [Math.max(x + w, x + w + both.x + grown), Math.max(y + h, y + h + both.y + grown)];
  return { x: left, y: top, w: right - left, h: bottom - top };
}

/** What is stored of a shadow that the stage shows: blur, spread, and the offset in the form it has. */
function tagsOf(end: End, coat: Coat): Tagged[] {
  const { offset, lengths, name } = end;
  const change = (to: Parameters<End['set']>[0]) => changeCoat(coat, end.set(to));
  const length = (label: string, value: number, to: (value: number) => Schemas['Offset']): Tagged => ({
    label,
    name: words.stage.ofOnTheStage(label, name),
    value,
    range: ranges.OffsetPx,
    onChange: (typed) => change({ offset: to(typed) }),
  });
  const offsets =
    'x' in offset
      ? [length('x', offset.x, (x) => ({ ...offset, x })), length('y', offset.y, (y) => ({ ...offset, y }))]
      : [length(words.stage.distanceLower, offset.distance, (distance) => ({ ...offset, distance }))];
  if (!lengths) return offsets;
  const { blur, spread } = lengths;
  const softness = {
    label: words.stage.blurLower,
    name: words.stage.blurOfOnTheStage(name),
    value: blur,
    range: ranges.BlurRadius,
    onChange: (blur: number) => change({ blur }),
  };
  const growth = {
    label: words.stage.spreadLower,
    name: words.stage.spreadOfOnTheStage(name),
    value: spread,
    range: ranges.Spread,
    onChange: (spread: number) => change({ spread }),
  };
  return [softness, growth, ...offsets];
}
