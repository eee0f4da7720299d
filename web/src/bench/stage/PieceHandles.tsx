import type { Piece, Schemas } from '../../core/client';
import { askAtOnce } from '../../core/core';
import { words } from '../../messages';
import { type Moving, rounded } from '../../parts/drag';
import { editPiece } from '../../session/pieces';
import { useView } from '../../session/view';
import { along, onScene } from './axes';
import { draggedBearing } from './dragged';
import { Knob } from './Knob';
import { inItsList } from './place';

interface Props {
  piece: Piece;
  size: { w: number; h: number };
  /** The piece's own two axes on the scene. */
  axes: Schemas['PieceBox']['axes'];
  /** The list that its own place is in. */
  list: Schemas['PieceList'];
  scale: number;
}

type Side = -1 | 0 | 1;

const grips: [Side, Side, string][] = [
  [-1, -1, words.stage.topLeftCorner],
  [0, -1, words.stage.topEdge],
  [1, -1, words.stage.topRightCorner],
  [1, 0, words.stage.rightEdge],
  [1, 1, words.stage.bottomRightCorner],
  [0, 1, words.stage.bottomEdge],
  [-1, 1, words.stage.bottomLeftCorner],
  [-1, 0, words.stage.leftEdge],
];

/** Handles of the chosen piece: size, corner radius, rotation. */
export function PieceHandles({ piece, size, axes, list, scale }: Props) {
  const { w, h } = size;
  const middle = { x: piece.x + w / 2, y: piece.y + h / 2 };
  const place = (x: number, y: number) => {
    const [right, down] = onScene(axes, x, y);
    return { x: middle.x + right, y: middle.y + down };
  };
  const { shape } = piece;
  const resizes = shape.kind !== 'join';
  const how = useView((state) => state.resizing);
  // Text has one size, a picture and a drawing their own proportions.
  const whole = ['text', 'picture', 'drawing'].includes(shape.kind);
  const resize = (sx: Side, sy: Side) => (): Moving => (dx, dy, event, ask) => {
    const [right, down] = along(axes, dx, dy);
    let to = {
      w: Math.max(1, rounded(w + sx * right, event)),
      h: Math.max(1, rounded(h + sy * down, event)),
    };
    if (whole !== Boolean(event.shiftKey) && sx !== 0 && sy !== 0) {
      const factor = Math.max(to.w / w, to.h / h);
      to = { w: Math.max(1, Math.round(w * factor)), h: Math.max(1, Math.round(h * factor)) };
    }
    const shift = { x: (sx * (to.w - w)) / 2, y: (sy * (to.h - h)) / 2 };
    const at = place(shift.x, shift.y);
    const put = (mine: Piece) => {
      const there = inItsList({ x: at.x - to.w / 2, y: at.y - to.h / 2 }, to, list);
      mine.x = tidy(there.x);
      mine.y = tidy(there.y);
    };
    if (shape.kind === 'group') {
      const question = { group: piece, width: to.w, height: to.h, how };
      ask(askAtOnce('/api/drag/group', question), (resized) =>
        editPiece(
          piece.id,
          (mine) => {
            mine.shape = resized.shape;
            put(mine);
          },
          true,
        ),
      );
      return;
    }
    editPiece(
      piece.id,
      (mine) => {
        if (shape.kind === 'text' && mine.shape.kind === 'text') {
          mine.shape.size = Math.max(1, Math.round(shape.size * (to.w / w) * 10) / 10);
        } else if ('w' in mine.shape) Object.assign(mine.shape, to);
        put(mine);
      },
      true,
    );
  };
  const rotate = (): Moving => {
    const arm = h / 2 + 26 / scale;
    return (dx, dy, event, ask) => {
      const at = place(0, -arm);
      ask(draggedBearing([at.x + dx - middle.x, at.y + dy - middle.y], [], event), (bearing) =>
        editPiece(
          piece.id,
          (mine) => {
            const own = (bearing - list.rotation + 720) % 360;
            mine.rotation = tidy(own > 180 ? own - 360 : own);
          },
          true,
        ),
      );
    };
  };
  const radius = shape.kind === 'box' && typeof shape.radii !== 'object' ? (shape.radii ?? 0) : null;
  const round = () => (dx: number, dy: number, event: { altKey: boolean }) => {
    const [right, down] = along(axes, dx, dy);
    const inward = (right + down) / 2;
    editPiece(
      piece.id,
      (mine) => {
        if (mine.shape.kind !== 'box') return;
        mine.shape.radii = Math.min(w / 2, h / 2, Math.max(0, rounded((radius ?? 0) + inward, event)));
      },
      true,
    );
  };
  const inset = Math.min(Math.max(radius ?? 0, 14 / scale), w / 2, h / 2);
  return (
    <>
      {resizes &&
        grips
          .filter(([sx, sy]) => !whole || (sx !== 0 && sy !== 0))
          .map(([sx, sy, name]) => (
            <Knob
              key={name}
              name={words.stage.sizeOfAt(piece.name, name)}
              {...place((sx * w) / 2, (sy * h) / 2)}
              scale={scale}
              shape="square"
              cursor={
                sx === 0 ? 'ns-resize' : sy === 0 ? 'ew-resize' : sx === sy ? 'nwse-resize' : 'nesw-resize'
              }
              onHold={resize(sx, sy)}
            />
          ))}
      {radius !== null && (
        <Knob
          name={words.stage.cornersOfRadius(piece.name, radius)}
          {...place(inset - w / 2, inset - h / 2)}
          scale={scale}
          shape="ring"
          cursor="nwse-resize"
          onHold={round}
        />
      )}
      <Knob
        name={words.stage.turn(piece.name)}
        {...place(0, -h / 2 - 26 / scale)}
        scale={scale}
        shape="ring"
        cursor="grab"
        onHold={rotate}
      />
    </>
  );
}

function tidy(value: number): number {
  return Math.round(value * 100) / 100;
}
