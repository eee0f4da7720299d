import type { PointerEvent } from 'react';
import { useOutline } from '../../core/asking';
import type { Coat, Piece, Project, Scene, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { drag, rounded } from '../../parts/drag';
import { finer } from '../../parts/NumberField';
import { changeCoat } from '../../session/coats';
import { lightsIn } from '../../session/shared';
import { along } from './axes';
import classes from './Handles.module.css';
import { Knob } from './Knob';
import { moved } from './offsets';
import type { Tagged } from './Tag';
import { Tags } from './Tags';
import type { Box } from './tagPlace';

interface Props {
  document: Project;
  scene: Scene;
  piece: Piece;
  coat: Coat;
  /** Width and height of the piece's box. */
  size: { w: number; h: number };
  /** Other pieces, which tags should not cover. */
  others: Box[];
  scale: number;
}

type Trace = Schemas['Trace'];
type Handle = Schemas['Handle'];
type Of<K extends Coat['kind']> = Extract<Coat, { kind: K }>;

/** One shadow as it is taken hold of: a coat's own, or either end of a ramp. */
interface End {
  name: string;
  offset: Schemas['Offset'];
  both: Schemas['ResolvedOffset'];
  handle: Handle;
  trace: Trace | undefined;
  lengths?: { blur: number; spread: number; inner: boolean };
  set: (to: { offset?: Schemas['Offset']; blur?: number; spread?: number }) => Partial<Coat>;
}

/** The open coat's true geometry on the stage, to be taken hold of. */
export function CoatHandles(props: Props) {
  const { coat, scene } = props;
  const outline = useOutline(coat.id);
  if (!outline || outline.coat !== coat.id || !coat.on) return null;
  const { traces } = outline;
  const ends = endsOf(coat, outline);
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        {traces.slice(1, -1).map((trace, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their order
          <path key={i} d={trace.edge} className={classes.between} />
        ))}
        {[traces[0], traces.length > 1 ? traces.at(-1) : undefined].map((trace, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the two ends
          <TraceLines key={i} trace={trace} />
        ))}
        {ends.map((end) => (
          <EndGrips key={end.name} end={end} {...props} />
        ))}
      </svg>
      {ends.map((end) => (
        <EndKnob key={end.name} end={end} {...props} />
      ))}
      {coat.kind === 'highlight' && <SpotKnobs {...props} coat={coat} outline={outline} />}
      {coat.kind === 'cast' && <CastKnob {...props} coat={coat} outline={outline} />}
    </>
  );
}

function TraceLines({ trace }: { trace: Trace | undefined }) {
  if (!trace) return null;
  return (
    <>
      {trace.faded && <path d={trace.faded} className={classes.faded} />}
      <path d={trace.edge} className={classes.casing} />
      <path d={trace.edge} className={classes.edge} />
    </>
  );
}

function endsOf(coat: Coat, outline: Schemas['CoatOutline']): End[] {
  const { offset: both, far, traces } = outline;
  const handle = handleOf(outline, 'offset');
  if (!both || !handle) return [];
  switch (coat.kind) {
    case 'drop':
    case 'inner': {
      const lengths = { blur: coat.blur, spread: coat.spread, inner: coat.kind === 'inner' };
      const set: End['set'] = (to) => to;
      return [{ name: coat.name, offset: coat.offset, both, handle, trace: traces[0], lengths, set }];
    }
    case 'extrude': {
      const set: End['set'] = ({ offset }) => ({ offset: offset ?? coat.offset });
      return [{ name: coat.name, offset: coat.offset, both, handle, trace: traces[0], set }];
    }
    case 'ramp': {
      const inner = coat.shadow === 'inner';
      const end = (
        which: 'near' | 'far',
        at: Schemas['ResolvedOffset'],
        handle: Handle,
        trace?: Trace,
      ): End => ({
        name: `${coat.name}, ${which}`,
        offset: coat[which].offset,
        both: at,
        handle,
        trace,
        lengths: { blur: coat[which].blur, spread: coat[which].spread, inner },
        set: (to) => ({ [which]: { ...coat[which], ...to } }),
      });
      const farHandle = handleOf(outline, 'far_offset');
      if (!far || !farHandle) return [];
      return [end('near', both, handle, traces[0]), end('far', far, farHandle, traces.at(-1))];
    }
    default:
      return [];
  }
}

function handleOf(outline: Schemas['CoatOutline'], kind: Handle['kind']): Handle | undefined {
  return outline.handles.find((handle) => handle.kind === kind);
}

function within(value: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, value));
}

/** Outlines under the pointer: the edge sets the spread, where it has faded out sets the blur. */
function EndGrips({ end, coat, scale }: Props & { end: End }) {
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

function EndKnob({ end, document, scene, coat, piece, size, others, scale }: Props & { end: End }) {
  const { both, offset, handle } = end;
  const { at, from } = handle;
  const limit = (value: number) => within(value, ...ranges.OffsetPx);
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const to: [number, number] = [limit(both.x + dx), limit(both.y + dy)];
    changeCoat(
      coat,
      end.set({ offset: moved(offset, both, to, lightsIn(document, scene.theme), scale, event) }),
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

/** The patch of a highlight: moved by its middle, sized by its corner. */
function SpotKnobs({
  coat,
  outline,
  piece,
  size,
  others,
  scene,
  scale,
}: Props & { coat: Of<'highlight'>; outline: Schemas['CoatOutline'] }) {
  const [place, corner, edge] = [
    handleOf(outline, 'place'),
    handleOf(outline, 'size'),
    handleOf(outline, 'blur'),
  ];
  if (!place || !corner || !edge) return null;
  const { spot } = coat;
  const { shape } = spot;
  const box = shape.kind === 'box' || shape.kind === 'ellipse' ? shape : null;
  const move = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [x, y] = along(place.axes, dx, dy);
    const to = { x: rounded(spot.x + x, event), y: rounded(spot.y + y, event) };
    changeCoat(coat, { spot: { ...spot, ...to } } as Partial<Coat>);
  };
  const resize = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    if (!box) return;
    const [x, y] = along(corner.axes, dx, dy);
    const side = (length: number) => within(rounded(length, event), 1, ranges.Size[1]);
    const to = { w: side(box.w + 2 * x), h: side(box.h + 2 * y) };
    const at = { x: spot.x + (box.w - to.w) / 2, y: spot.y + (box.h - to.h) / 2 };
    changeCoat(coat, { spot: { ...spot, ...at, shape: { ...box, ...to } } } as Partial<Coat>);
  };
  const soften = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const blur = within(rounded(coat.blur + along(edge.axes, dx, dy)[0], event), ...ranges.BlurRadius);
    changeCoat(coat, { blur } as Partial<Coat>);
  };
  return (
    <>
      <Knob name={words.stage.placeOf(coat.name)} {...place.at} scale={scale} onHold={move} />
      {box && (
        <Knob
          name={words.stage.sizeOf(coat.name)}
          {...corner.at}
          scale={scale}
          shape="square"
          cursor="nwse-resize"
          onHold={resize}
        />
      )}
      <Knob
        name={words.stage.softnessOf(coat.name)}
        {...edge.at}
        scale={scale}
        shape="ring"
        cursor="ew-resize"
        onHold={soften}
      />
      <Tags
        of={[
          {
            label: words.stage.blurLower,
            name: words.stage.blurOfOnTheStage(coat.name),
            value: coat.blur,
            range: ranges.BlurRadius,
            onChange: (blur) => changeCoat(coat, { blur } as Partial<Coat>),
          },
        ]}
        about={{ ...piece, ...size }}
        others={others}
        scene={scene}
        scale={scale}
      />
    </>
  );
}

/** The far end of a cast shadow: sideways shears it, up and down squashes it. */
function CastKnob({
  coat,
  outline,
  piece,
  size,
  others,
  scene,
  scale,
}: Props & { coat: Of<'cast'>; outline: Schemas['CoatOutline'] }) {
  const handle = handleOf(outline, 'far_end');
  if (!handle) return null;
  const { at, from } = handle;
  const fine = (value: number, event: { altKey: boolean }) => {
    const step = event.altKey ? 1000 : 100;
    return within(Math.round(value * step) / step, ...ranges.Relative);
  };
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [shear, squash] = along(handle.axes, at.x + dx - from.x, at.y + dy - from.y);
    const to = { follows: null, shear: fine(shear, event), squash: fine(squash, event) };
    changeCoat(coat, to as Partial<Coat>);
  };
  const tag = (label: 'shear' | 'squash'): Tagged => ({
    label: words.stage[label],
    name: words.stage.ofOnTheStage(words.stage[label], coat.name),
    value: coat[label] * 100,
    range: percents(ranges.Relative),
    onChange: (percent) => changeCoat(coat, { [label]: percent / 100 } as Partial<Coat>),
  });
  return (
    <>
      <Knob name={words.stage.farEndOf(coat.name)} {...at} scale={scale} onHold={hold} />
      <Tags
        of={[tag('shear'), tag('squash')]}
        about={{ ...piece, ...size }}
        others={others}
        scene={scene}
        scale={scale}
      />
    </>
  );
}
