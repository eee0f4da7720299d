import type { Piece, Schemas } from '../../core/client';
import { words } from '../../messages';
import { useView } from '../../session/view';
import classes from './Handles.module.css';
import { Knob } from './Knob';
import { held } from './offsets';

interface Props {
  profile: Schemas['Profile'];
  piece: Piece;
  size: { w: number; h: number };
  lights: { bearing: number }[];
  scene: { width: number; height: number };
  scale: number;
}

/** The line the edge profile is measured along: its inner end moves it, its outer end turns it. */
export function ProfileLine({ profile, piece, size, lights, scene, scale }: Props) {
  const { start, edge, end, bearing } = profile;
  const middle = { x: piece.x + size.w / 2, y: piece.y + size.h / 2 };
  const line = useView((state) => state.line) ?? { x: 0, y: 0, bearing };
  const move = () => (dx: number, dy: number) =>
    useView.setState({ line: { ...line, x: Math.round(line.x + dx), y: Math.round(line.y + dy) } });
  const turn = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const from = { x: middle.x + line.x, y: middle.y + line.y };
    const free = (Math.atan2(from.x - end.x - dx, end.y + dy - from.y) * 180) / Math.PI;
    const whole = (free + 360) % 360;
    useView.setState({ line: { ...line, bearing: event.altKey ? Math.round(whole) : held(whole, lights) } });
  };
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        <path d={`M${start.x} ${start.y}L${end.x} ${end.y}`} className={classes.casing} />
        <path d={`M${start.x} ${start.y}L${end.x} ${end.y}`} className={classes.arm} />
        <circle cx={edge.x} cy={edge.y} r={3 / scale} className={classes.edge} />
      </svg>
      <Knob name={words.stage.moveTheLineOfThe} {...start} scale={scale} shape="ring" onHold={move} />
      <Knob name={words.stage.turnTheLineOfThe} {...end} scale={scale} shape="ring" onHold={turn} />
    </>
  );
}
