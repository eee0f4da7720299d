import type { PointerEvent } from 'react';
import { useView } from '../view';
import { drag } from './drag';
import classes from './Reference.module.css';

/** A line across the stage that is drawn from side to side. */
export function WipeLine({ width, label }: { width: number; label: string }) {
  const wipe = useView((state) => state.wipe);
  const put = (to: number) => useView.setState({ wipe: Math.min(1, Math.max(0, to)) });
  const hold = (event: PointerEvent) => drag(event, width, (dx) => put(wipe + dx));
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={Math.round(wipe * 100)}
      className={classes.wipe}
      style={{ left: `${wipe * 100}%` }}
      onPointerDown={hold}
      onKeyDown={(event) => {
        if (event.key === 'ArrowLeft') put(wipe - 0.02);
        else if (event.key === 'ArrowRight') put(wipe + 0.02);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    />
  );
}
