import { useOutline } from '../../session/asking';
import { CastKnob } from './CastKnob';
import { EndGrips, EndKnob } from './EndHandles';
import classes from './Handles.module.css';
import { HeightKnob } from './HeightKnob';
import type { HandleProps, Trace } from './handle';
import { SpotKnobs } from './SpotKnobs';
import { endsOf } from './shadowEnds';

/** The open coat's true geometry on the stage, to be taken hold of. */
export function CoatHandles(props: HandleProps) {
  const { coat, scene } = props;
  const outline = useOutline(coat.id);
  if (!outline || outline.coat !== coat.id || !coat.on) return null;
  const { traces } = outline;
  const ends = endsOf(coat, outline);
  return (
    <>
      <svg className={classes.lines} viewBox={`0 0 ${scene.width} ${scene.height}`} aria-hidden="true">
        {traces.slice(1, -1).map((trace, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their order
          <path key={i} d={trace.edge} className={classes.between} />
        ))}
        {[traces[0], traces.length > 1 ? traces.at(-1) : undefined].map((trace, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the two ends
          <TraceLines key={i} trace={trace} />
        ))}
        {ends.map((end) => (
          <EndGrips key={end.name} end={end} {...props} />
        ))}
      </svg>
      {ends.map((end) => (
        <EndKnob key={end.name} end={end} {...props} />
      ))}
      {coat.kind === 'highlight' && <SpotKnobs {...props} coat={coat} outline={outline} />}
      {coat.kind === 'raised' && <HeightKnob {...props} coat={coat} outline={outline} />}
      {coat.kind === 'cast' && <CastKnob {...props} coat={coat} outline={outline} />}
    </>
  );
}

function TraceLines({ trace }: { trace: Trace | undefined }) {
  if (!trace) return null;
  return (
    <>
      {trace.faded && <path d={trace.faded} className={classes.faded} />}
      <path d={trace.edge} className={classes.casing} />
      <path d={trace.edge} className={classes.edge} />
    </>
  );
}
