import type { Piece, Schemas } from '../../core/client';
import { words } from '../../messages';
import type { Moving } from '../../parts/drag';
import { useView } from '../../session/view';
import { draggedBearing } from './dragged';
import classes from './Handles.module.css';
import { Knob } from './Knob';

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
  const turn = (): Moving => (dx, dy, event, ask) => {
    const from = { x: middle.x + line.x, y: middle.y + line.y };
    // It runs away from its light.
    const light: [number, number] = [from.x - end.x - dx, from.y - end.y - dy];
    ask(draggedBearing(light, lights, event), (bearing) => useView.setState({ line: { ...line, bearing } }));
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
