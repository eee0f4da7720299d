import type { PointerEvent } from 'react';
import type { Coat, Piece, Project, Scene, Schemas } from '../../api/client';
import { changeCoat } from '../../document/coats';
import { finer } from '../../parts/NumberField';
import { useOutline } from '../asking';
import { drag, rounded } from './drag';
import classes from './Handles.module.css';
import { Knob } from './Knob';
import { moved } from './offsets';
import { Tag } from './Tag';

interface Props {
  document: Project;
  scene: Scene;
  piece: Piece;
  coat: Coat;
  /** Width and height of the piece's box. */
  size: { w: number; h: number };
  scale: number;
}

type Trace = Schemas['Trace'];
type Of<K extends Coat['kind']> = Extract<Coat, { kind: K }>;

/** One shadow as it is taken hold of: a coat's own, or either end of a ramp. */
interface End {
  name: string;
  offset: Schemas['Offset'];
  both: Schemas['ResolvedOffset'];
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
      {coat.kind === 'highlight' && <SpotKnobs {...props} coat={coat} />}
      {coat.kind === 'cast' && <CastKnob {...props} coat={coat} />}
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
  if (!both) return [];
  switch (coat.kind) {
    case 'drop':
    case 'inner': {
      const lengths = { blur: coat.blur, spread: coat.spread, inner: coat.kind === 'inner' };
      return [{ name: coat.name, offset: coat.offset, both, trace: traces[0], lengths, set: (to) => to }];
    }
    case 'extrude':
      return [
        {
          name: coat.name,
          offset: coat.offset,
          both,
          trace: traces[0],
          set: ({ offset }) => ({ offset: offset ?? coat.offset }),
        },
      ];
    case 'ramp': {
      const inner = coat.shadow === 'inner';
      const end = (which: 'near' | 'far', at: Schemas['ResolvedOffset'], trace: Trace | undefined): End => ({
        name: `${coat.name}, ${which}`,
        offset: coat[which].offset,
        both: at,
        trace,
        lengths: { blur: coat[which].blur, spread: coat[which].spread, inner },
        set: (to) => ({ [which]: { ...coat[which], ...to } }),
      });
      return far ? [end('near', both, traces[0]), end('far', far, traces.at(-1))] : [];
    }
    default:
      return [];
  }
}

function within(value: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, value));
}

/** Outlines under the pointer: the edge sets the spread, where it has faded out sets the blur. */
function EndGrips({ end, coat, piece, size, scale }: Props & { end: End }) {
  const { lengths, trace, both } = end;
  if (!lengths || !trace) return null;
  const middle = { x: piece.x + size.w / 2 + both.x, y: piece.y + size.h / 2 + both.y };
  const pull = (start: number, low: number, high: number, set: (value: number) => Partial<Coat>) => {
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
        changeCoat(coat, set(within(rounded(start + grown, now), low, high)));
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
          data-handle={`${end.name}: blur`}
          onPointerDown={pull(lengths.blur, 0, 4000, (blur) => end.set({ blur }))}
        />
      )}
      <path
        d={trace.edge}
        className={classes.grip}
        style={{ cursor: 'ew-resize' }}
        data-handle={`${end.name}: spread`}
        onPointerDown={pull(lengths.spread, -2000, 2000, (spread) => end.set({ spread }))}
      />
    </>
  );
}

function EndKnob({ end, document, scene, coat, piece, size, scale }: Props & { end: End }) {
  const { both, offset, lengths } = end;
  const middle = { x: piece.x + size.w / 2, y: piece.y + size.h / 2 };
  const at = { x: middle.x + both.x, y: middle.y + both.y };
  const limit = (value: number) => within(value, -10000, 10000);
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const to: [number, number] = [limit(both.x + dx), limit(both.y + dy)];
    changeCoat(coat, end.set({ offset: moved(offset, both, to, document.lights, scale, event) }));
  };
  const right = (reach: number) =>
    Math.min((at.x + size.w / 2 + reach) * scale, scene.width * scale - 92) + 8;
  const low = Math.min(at.y * scale, scene.height * scale - 64);
  const sign = lengths?.inner ? -1 : 1;
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={`M${middle.x} ${middle.y}L${at.x} ${at.y}`} className={classes.arm} />
      </svg>
      <Knob name={`Offset of ${end.name}`} x={at.x} y={at.y} scale={scale} onHold={hold} />
      <OffsetTags end={end} coat={coat} left={at.x * scale + 12} top={at.y * scale + 8} />
      {lengths && (
        <>
          <Tag
            label="spread"
            name={`Spread of ${end.name}, on the stage`}
            value={lengths.spread}
            min={-2000}
            max={2000}
            left={right(sign * lengths.spread)}
            top={low - 22}
            onChange={(spread) => changeCoat(coat, end.set({ spread }))}
          />
          <Tag
            label="blur"
            name={`Blur of ${end.name}, on the stage`}
            value={lengths.blur}
            min={0}
            max={4000}
            left={right(sign * (lengths.spread + lengths.blur))}
            top={low + 2}
            onChange={(blur) => changeCoat(coat, end.set({ blur }))}
          />
        </>
      )}
    </>
  );
}

function OffsetTags({ end, coat, left, top }: { end: End; coat: Coat; left: number; top: number }) {
  const { offset } = end;
  const tag = (label: string, value: number, at: number, to: (value: number) => Schemas['Offset']) => (
    <Tag
      label={label}
      name={`${label} of ${end.name}, on the stage`}
      value={value}
      min={-10000}
      max={10000}
      left={left + at}
      top={top}
      onChange={(typed) => changeCoat(coat, end.set({ offset: to(typed) }))}
    />
  );
  if ('x' in offset) {
    return (
      <>
        {tag('x', offset.x, 0, (x) => ({ ...offset, x }))}
        {tag('y', offset.y, 52, (y) => ({ ...offset, y }))}
      </>
    );
  }
  return tag('distance', offset.distance, 0, (distance) => ({ ...offset, distance }));
}

/** The patch of a highlight: moved by its middle, sized by its corner. */
function SpotKnobs({ document, coat, piece, size, scale }: Props & { coat: Of<'highlight'> }) {
  const { spot } = coat;
  const { shape } = spot;
  const box = shape.kind === 'box' || shape.kind === 'ellipse' ? shape : null;
  const [w, h] = 'w' in shape ? [shape.w, shape.h] : [0, 0];
  const light = document.lights?.find((other) => other.id === coat.follows);
  // A patch that follows a light is turned with it about the piece's middle.
  const turn = ((light?.bearing ?? 0) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const arm = { x: spot.x + w / 2 - size.w / 2, y: spot.y + h / 2 - size.h / 2 };
  const middle = {
    x: piece.x + size.w / 2 + arm.x * cos - arm.y * sin,
    y: piece.y + size.h / 2 + arm.x * sin + arm.y * cos,
  };
  const move = () => (dx: number, dy: number, event: { altKey: boolean }) =>
    changeCoat(coat, {
      spot: {
        ...spot,
        x: rounded(spot.x + dx * cos + dy * sin, event),
        y: rounded(spot.y - dx * sin + dy * cos, event),
      },
    } as Partial<Coat>);
  const resize = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    if (!box) return;
    const to = {
      w: within(rounded(w + 2 * dx, event), 1, 8192),
      h: within(rounded(h + 2 * dy, event), 1, 8192),
    };
    const at = { x: spot.x + (w - to.w) / 2, y: spot.y + (h - to.h) / 2 };
    changeCoat(coat, { spot: { ...spot, ...at, shape: { ...box, ...to } } } as Partial<Coat>);
  };
  const soften = () => (dx: number, _: number, event: { altKey: boolean }) =>
    changeCoat(coat, { blur: within(rounded(coat.blur + dx, event), 0, 4000) } as Partial<Coat>);
  const corner = { x: middle.x + w / 2, y: middle.y + h / 2 };
  return (
    <>
      <Knob name={`Place of ${coat.name}`} {...middle} scale={scale} onHold={move} />
      {box && (
        <Knob
          name={`Size of ${coat.name}`}
          {...corner}
          scale={scale}
          shape="square"
          cursor="nwse-resize"
          onHold={resize}
        />
      )}
      <Knob
        name={`Softness of ${coat.name}`}
        x={middle.x + w / 2 + coat.blur}
        y={middle.y}
        scale={scale}
        shape="ring"
        cursor="ew-resize"
        onHold={soften}
      />
      <Tag
        label="blur"
        name={`Blur of ${coat.name}, on the stage`}
        value={coat.blur}
        min={0}
        max={4000}
        left={(middle.x + w / 2 + coat.blur) * scale + 12}
        top={middle.y * scale - 9}
        onChange={(blur) => changeCoat(coat, { blur } as Partial<Coat>)}
      />
    </>
  );
}

/** The far end of a cast shadow: sideways shears it, up and down squashes it. */
function CastKnob({ coat, piece, size, scale }: Props & { coat: Of<'cast'> }) {
  const height = Math.max(1, coat.anchor * size.h);
  const foot = { x: piece.x + size.w / 2, y: piece.y + coat.anchor * size.h };
  const at = { x: foot.x + coat.shear * height, y: foot.y - coat.squash * height };
  const fine = (value: number, event: { altKey: boolean }) => {
    const step = event.altKey ? 1000 : 100;
    return within(Math.round(value * step) / step, -10, 10);
  };
  const hold = () => (dx: number, dy: number, event: { altKey: boolean }) =>
    changeCoat(coat, {
      follows: null,
      shear: fine(coat.shear + dx / height, event),
      squash: fine(coat.squash - dy / height, event),
    } as Partial<Coat>);
  const tag = (label: 'shear' | 'squash', top: number) => (
    <Tag
      label={label}
      name={`${label} of ${coat.name}, on the stage`}
      value={coat[label] * 100}
      min={-1000}
      max={1000}
      left={at.x * scale + 12}
      top={at.y * scale + top}
      onChange={(percent) => changeCoat(coat, { [label]: percent / 100 } as Partial<Coat>)}
    />
  );
  return (
    <>
      <Knob name={`Far end of ${coat.name}`} {...at} scale={scale} onHold={hold} />
      {tag('shear', -22)}
      {tag('squash', 2)}
    </>
  );
}
