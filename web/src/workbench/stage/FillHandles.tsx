import type { Piece, Schemas } from '../../api/client';
import { editPiece } from '../../document/pieces';
import { rounded } from './drag';
import classes from './Handles.module.css';
import { Knob } from './Knob';
import { held } from './offsets';

type Fill = Schemas['Fill'];
type Gradient = Extract<Fill, { kind: 'linear' | 'radial' }>;

interface Props {
  piece: Piece;
  fill: Gradient;
  size: { w: number; h: number };
  lights: { id: string; bearing: number }[];
  scene: { width: number; height: number };
  scale: number;
}

/** A gradient on the piece itself: its line or circle, and its stops along it. */
export function FillHandles({ piece, fill, size, lights, scene, scale }: Props) {
  const turn = ((piece.rotation ?? 0) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const middle = { x: piece.x + size.w / 2, y: piece.y + size.h / 2 };
  /** From the piece's own px to the scene's, and a drag on the scene to the piece's own px. */
  const out = ([x, y]: [number, number]) => {
    const [dx, dy] = [x - size.w / 2, y - size.h / 2];
    return { x: middle.x + dx * cos - dy * sin, y: middle.y + dx * sin + dy * cos };
  };
  const own = (dx: number, dy: number): [number, number] => [dx * cos + dy * sin, dy * cos - dx * sin];
  const put = (to: Gradient) =>
    editPiece(
      piece.id,
      (mine) => {
        mine.fill = to;
      },
      true,
    );
  const { from, to } = fill.kind === 'linear' ? lineOf(fill, lights, size) : rayOf(fill, size);
  const along = { x: to[0] - from[0], y: to[1] - from[1] };
  const length = Math.hypot(along.x, along.y) || 1;
  const moveStop = (i: number) => () => {
    const start = fill.stops[i]?.at ?? 0;
    const [low, high] = [fill.stops[i - 1]?.at ?? 0, fill.stops[i + 1]?.at ?? 1];
    return (dx: number, dy: number) => {
      const [x, y] = own(dx, dy);
      const moved = start + (x * along.x + y * along.y) / length / length;
      const at = Math.round(Math.min(high, Math.max(low, moved)) * 1000) / 1000;
      put({ ...fill, stops: fill.stops.map((stop, other) => (other === i ? { ...stop, at } : stop)) });
    };
  };
  const [a, b] = [out(from), out(to)];
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} className={classes.casing} />
        <path d={`M${a.x} ${a.y}L${b.x} ${b.y}`} className={classes.arm} />
      </svg>
      <EndKnobs fill={fill} size={size} from={from} to={to} scale={scale} out={out} own={own} put={put} />
      {fill.stops.map((stop, i) => (
        <Knob
          // biome-ignore lint/suspicious/noArrayIndexKey: stops have no identity but their order
          key={i}
          name={`Stop ${i + 1} of the fill, at ${Math.round(stop.at * 1000) / 10} %`}
          {...out([from[0] + along.x * stop.at, from[1] + along.y * stop.at])}
          scale={scale}
          shape="square"
          onHold={moveStop(i)}
        />
      ))}
    </>
  );
}

type At = [number, number];

/** Beyond the end of a line the knob that turns it; in a circle the knobs of its middle and its size. */
function EndKnobs({
  fill,
  size,
  from,
  to,
  scale,
  out,
  own,
  put,
}: {
  fill: Gradient;
  size: { w: number; h: number };
  from: At;
  to: At;
  scale: number;
  out: (at: At) => { x: number; y: number };
  own: (dx: number, dy: number) => At;
  put: (fill: Gradient) => void;
}) {
  const beyond = (): At => {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const length = Math.hypot(dx, dy) || 1;
    return [to[0] + (dx / length) * (20 / scale), to[1] + (dy / length) * (20 / scale)];
  };
  if (fill.kind === 'linear') {
    if (!('angle' in fill)) return null;
    const end = beyond();
    const turn = () => (dx: number, dy: number, event: { altKey: boolean }) => {
      const [x, y] = own(dx, dy);
      const arm = [end[0] + x - size.w / 2, end[1] + y - size.h / 2] as const;
      const free = ((Math.atan2(arm[0], -arm[1]) * 180) / Math.PI + 360) % 360;
      put({ ...fill, angle: event.altKey ? Math.round(free * 10) / 10 : held(free, []) });
    };
    return <Knob name="Angle of the fill" {...out(end)} scale={scale} shape="ring" onHold={turn} />;
  }
  const { centre, radius } = fill;
  const move = () => (dx: number, dy: number) => {
    const [x, y] = own(dx, dy);
    const share = (value: number) => Math.round(value * 1000) / 1000;
    put({ ...fill, centre: { x: share(centre.x + x / size.w), y: share(centre.y + y / size.h) } });
  };
  const grow = () => (dx: number, dy: number, event: { altKey: boolean }) =>
    put({ ...fill, radius: Math.max(0, rounded(radius + own(dx, dy)[0], event)) });
  const middle = out([centre.x * size.w, centre.y * size.h]);
  return (
    <>
      <Knob name="Middle of the fill" {...middle} scale={scale} onHold={move} />
      <Knob name="Radius of the fill" {...out(beyond())} scale={scale} shape="ring" onHold={grow} />
    </>
  );
}

/** The line of a linear gradient: its ends lie where a line across it meets the corners (CSS Images 3, §3.1). */
function lineOf(
  fill: Extract<Fill, { kind: 'linear' }>,
  lights: Props['lights'],
  size: { w: number; h: number },
) {
  const bearing =
    'follows' in fill ? (lights.find((light) => light.id === fill.follows)?.bearing ?? 0) + 180 : fill.angle;
  const radians = (bearing * Math.PI) / 180;
  const [sin, cos] = [Math.sin(radians), Math.cos(radians)];
  const half = (Math.abs(size.w * sin) + Math.abs(size.h * cos)) / 2;
  const [x, y] = [size.w / 2, size.h / 2];
  const from: At = [x - sin * half, y + cos * half];
  const to: At = [x + sin * half, y - cos * half];
  return { from, to };
}

function rayOf(fill: Extract<Fill, { kind: 'radial' }>, size: { w: number; h: number }) {
  const from: At = [fill.centre.x * size.w, fill.centre.y * size.h];
  const to: At = [from[0] + fill.radius, from[1]];
  return { from, to };
}
