import { words } from '../../messages';
import classes from './Handles.module.css';
import type { Guide } from './snapping';

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
            className={gap === undefined ? classes.guide : classes.arm}
          />
        ))}
      </svg>
      {guides.map(({ from, to, gap }) =>
        gap === undefined ? null : (
          <span
            key={`${from}-${to}`}
            className={classes.said}
            style={{ left: ((from[0] + to[0]) / 2) * scale + 4, top: ((from[1] + to[1]) / 2) * scale + 4 }}
          >
            {words.stage.px(Math.round(gap * 100) / 100)}
          </span>
        ),
      )}
    </>
  );
}
