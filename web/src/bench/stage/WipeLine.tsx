import { useMove } from '@mantine/hooks';
import { useView } from '../../session/view';
import classes from './Reference.module.css';

/** A line across the stage that is drawn from side to side. */
export function WipeLine({ label }: { label: string }) {
  const wipe = useView((state) => state.wipe);
  const put = (to: number) => useView.setState({ wipe: Math.min(1, Math.max(0, to)) });
  const { ref } = useMove<HTMLDivElement>(({ x }) => put(x));
  return (
    <div ref={ref} className={classes.wipeTrack}>
      <div
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuenow={Math.round(wipe * 100)}
        className={classes.wipe}
        style={{ left: `${wipe * 100}%` }}
        onPointerDown={(event) => event.stopPropagation()}
        onKeyDown={(event) => {
          if (event.key === 'ArrowLeft') put(wipe - 0.02);
          else if (event.key === 'ArrowRight') put(wipe + 0.02);
          else if (event.key === 'Home') put(0);
          else if (event.key === 'End') put(1);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
    </div>
  );
}
