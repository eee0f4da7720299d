import type { Schemas } from '../../core/client';
import { words } from '../../messages';
import classes from './Handles.module.css';

type Guide = Schemas['Guide'];

/** What a dragged piece lines up with, and how far it is from its neighbours. */
export function Guides({
  guides,
  scene,
  scale,
}: {
  guides: Guide[];
  scene: { width: number; height: number };
  scale: number;
}) {
  if (guides.length === 0) return null;
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        {guides.map(({ from, to, gap }) => (
          <path
            key={`${from}-${to}`}
            d={`M${from}L${to}`}
            className={typeof gap !== 'number' ? classes.guide : classes.arm}
          />
        ))}
      </svg>
      {guides.map(({ from, to, gap }) =>
        typeof gap !== 'number' ? null : (
          <span key={`${from}-${to}`} className={classes.said} style={besideMiddle(from, to, scale)}>
            {words.stage.px(Math.round(gap * 100) / 100)}
          </span>
        ),
      )}
    </>
  );
}

function besideMiddle([x1 = 0, y1 = 0]: number[], [x2 = 0, y2 = 0]: number[], scale: number) {
  return { left: ((x1 + x2) / 2) * scale + 4, top: ((y1 + y2) / 2) * scale + 4 };
}
