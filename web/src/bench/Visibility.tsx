import { Text } from '@mantine/core';
import { memo } from 'react';
import { words } from '../messages';
import { useSight, useTextOnIt } from '../session/asking';
import { useReported } from '../session/reported';
import region from './region.module.css';
import classes from './Visibility.module.css';

/** How well the chosen piece can be seen: its letters, or its edge. */
export const Visibility = memo(function Visibility() {
  const report = useReported((told) => told.report);
  return (
    <section aria-label={words.bench.visibility} className={`${region.region} ${classes.visibility}`}>
      <h2 className={region.title}>{words.bench.visibility}</h2>
      {report?.profile ? (
        <Sight />
      ) : (
        <Text size="sm" c="dimmed" mt={4}>
          {report ? words.bench.noEdgeOfItsOwn : words.bench.choosePieceForVisibility}
        </Text>
      )}
    </section>
  );
});

function Sight() {
  const sight = useSight();
  const onIt = useTextOnIt();
  if (!sight) return null;
  const { contrast, needed, squinted } = sight;
  const text = squinted === undefined || squinted === null;
  return (
    <div data-sight className={classes.sight}>
      <Measure
        says={text ? words.bench.textContrastNeeds(needed) : words.bench.edgeContrastNeeds(needed)}
        {...ratio(contrast, needed)}
      />
      {!text && (
        <Measure
          says={words.bench.edgeLeftWhenSquinting}
          value={`${Math.round(squinted * 100)}\u00a0%`}
          share={Math.min(1, squinted)}
        />
      )}
      {onIt && (
        <Measure
          says={words.bench.textOnItNeeds(onIt.name, onIt.sight.needed)}
          {...ratio(onIt.sight.contrast, onIt.sight.needed)}
        />
      )}
    </div>
  );
}

/** A contrast beside what is needed; twice that fills the bar. */
function ratio(contrast: number, needed: number): Pick<MeasureProps, 'value' | 'share' | 'mark'> {
  const share = (value: number) => Math.min(1, Math.log(value) / Math.log(needed * 2));
  return { value: contrast.toFixed(2), share: share(contrast), mark: share(needed) };
}

interface MeasureProps {
  says: string;
  value: string;
  /** How much of the bar is filled, from 0 to 1. */
  share: number;
  /** Where what is needed lies. */
  mark?: number;
}

function Measure({ says, value, share, mark }: MeasureProps) {
  return (
    <div className={classes.measure}>
      <span title={says}>{says}</span>
      <b>{value}</b>
      <span className={classes.bar} aria-hidden="true">
        <span className={classes.filled} style={{ width: `${share * 100}%` }} />
        {mark !== undefined && <span className={classes.mark} style={{ left: `${mark * 100}%` }} />}
      </span>
    </div>
  );
}
