import type { Piece } from '../../core/client';
import { useView } from '../../session/view';
import { onScene } from './axes';
import classes from './Stage.module.css';

interface Props {
  piece: Piece;
  size: { w: number; h: number };
  axes: number[][];
  scale: number;
}

/** Where the element of the chosen drawing is that is pointed at in the list. */
export function PointedElement({ piece, size, axes, scale }: Props) {
  const element = useView((state) => state.element);
  if (element?.piece !== piece.id) return null;
  const [x = 0, y = 0, w = 0, h = 0] = element.place;
  const [right, down] = onScene(axes, x + w / 2 - size.w / 2, y + h / 2 - size.h / 2);
  return (
    <span
      className={classes.chosen}
      style={{
        left: (piece.x + size.w / 2 + right - w / 2) * scale,
        top: (piece.y + size.h / 2 + down - h / 2) * scale,
        width: w * scale,
        height: h * scale,
        rotate: `${piece.rotation ?? 0}deg`,
      }}
    />
  );
}
