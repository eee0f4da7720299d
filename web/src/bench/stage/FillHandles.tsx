import type { Piece, Schemas } from '../../core/client';
import { words } from '../../messages';
import { type Moving, rounded } from '../../parts/drag';
import { editPiece } from '../../session/pieces';
import { along } from './axes';
import { draggedBearing } from './dragged';
import classes from './Handles.module.css';
import { Knob } from './Knob';

type Fill = Schemas['Fill'];
type Gradient = Extract<Fill, { kind: 'linear' | 'radial' }>;

interface Props {
  piece: Piece;
  fill: Gradient;
  /** The line of the gradient on the scene, as the core has it. */
  handles: Schemas['GradientHandles'];
  size: { w: number; h: number };
  scene: { width: number; height: number };
  scale: number;
}

/** A gradient on the piece itself: its line or circle, and its stops along it. */
export function FillHandles({ piece, fill, handles, size, scene, scale }: Props) {
  const { start, end } = handles;
  const put = (to: Gradient) =>
    editPiece(
      piece.id,
      (mine) => {
        mine.fill = to;
      },
      true,
    );
  const along = { x: end.x - start.x, y: end.y - start.y };
  const length = Math.hypot(along.x, along.y) || 1;
  const moveStop = (i: number) => () => {
    const from = fill.stops[i]?.at ?? 0;
    const [low, high] = [fill.stops[i - 1]?.at ?? 0, fill.stops[i + 1]?.at ?? 1];
    return (dx: number, dy: number) => {
      const moved = from + (dx * along.x + dy * along.y) / length / length;
      const at = Math.round(Math.min(high, Math.max(low, moved)) * 1000) / 1000;
      put({ ...fill, stops: fill.stops.map((stop, other) => (other === i ? { ...stop, at } : stop)) });
    };
  };
  const beyond = {
    x: end.x + (along.x / length) * (20 / scale),
    y: end.y + (along.y / length) * (20 / scale),
  };
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={`M${start.x} ${start.y}L${end.x} ${end.y}`} className={classes.casing} />
        <path d={`M${start.x} ${start.y}L${end.x} ${end.y}`} className={classes.arm} />
      </svg>
      <EndKnobs
        piece={piece}
        fill={fill}
        handles={handles}
        size={size}
        beyond={beyond}
        scale={scale}
        put={put}
      />
      {fill.stops.map((stop, i) => (
        <Knob
          // biome-ignore lint/suspicious/noArrayIndexKey: stops have no identity but their order
          key={i}
          name={words.stage.stopOfTheFillAt(i + 1, Math.round(stop.at * 1000) / 10)}
          x={start.x + along.x * stop.at}
          y={start.y + along.y * stop.at}
          scale={scale}
          shape="square"
          onHold={moveStop(i)}
        />
      ))}
    </>
  );
}

interface EndProps extends Omit<Props, 'scene'> {
  /** A little farther out than the end of the line. */
  beyond: { x: number; y: number };
  put: (fill: Gradient) => void;
}

/** Beyond the end of a line the knob that turns it; in a circle the knobs of its middle and its size. */
function EndKnobs({ piece, fill, handles, size, beyond, scale, put }: EndProps) {
  if (fill.kind === 'linear') {
    if (!('angle' in fill)) return null;
    const middle = { x: piece.x + size.w / 2, y: piece.y + size.h / 2 };
    const turn = (): Moving => (dx, dy, event, ask) => {
      const onPiece = along(handles.axes, beyond.x + dx - middle.x, beyond.y + dy - middle.y);
      ask(draggedBearing(onPiece, [], event), (angle) => put({ ...fill, angle }));
    };
    return <Knob name={words.stage.angleOfTheFill} {...beyond} scale={scale} shape="ring" onHold={turn} />;
  }
  const { centre, radius } = fill;
  const move = () => (dx: number, dy: number) => {
    const share = (value: number) => Math.round(value * 1000) / 1000;
    const [right, down] = along(handles.axes, dx, dy);
    const x = share(centre.x + right / size.w);
    put({ ...fill, centre: { x, y: share(centre.y + down / size.h) } });
  };
  const grow = () => (dx: number, dy: number, event: { altKey: boolean }) =>
    put({ ...fill, radius: Math.max(0, rounded(radius + along(handles.axes, dx, dy)[0], event)) });
  return (
    <>
      <Knob name={words.stage.middleOfTheFill} {...handles.start} scale={scale} onHold={move} />
      <Knob name={words.stage.radiusOfTheFill} {...beyond} scale={scale} shape="ring" onHold={grow} />
    </>
  );
}
