import { Text } from '@mantine/core';
import type { Report } from '../api/client';
import classes from './EdgeProfile.module.css';
import region from './region.module.css';

const WIDTH = 420;
const HEIGHT = 128;
const LEFT = 34;
const BOTTOM = 108;

/** Darkness across the piece's edge, as the core measured it. */
export function EdgeProfile({ report }: { report: Report | null }) {
  const samples = report?.profile?.samples ?? [];
  const first = samples[0]?.at ?? 0;
  const last = samples.at(-1)?.at ?? 1;
  const values = samples.map((sample) => sample.darkness);
  const top = Math.max(5, ...values);
  const low = Math.min(0, ...values);
  const x = (at: number) => LEFT + ((at - first) / (last - first)) * (WIDTH - LEFT - 8);
  const y = (darkness: number) => 8 + ((top - darkness) / (top - low)) * (BOTTOM - 8);
  const line = samples
    .map((sample, i) => `${i === 0 ? 'M' : 'L'}${x(sample.at)} ${y(sample.darkness)}`)
    .join('');
  return (
    <section aria-label="Edge profile" className={`${region.region} ${classes.profile}`}>
      <h2 className={region.title}>Edge profile · darkness along the light, all coats together</h2>
      {samples.length === 0 ? (
        <Text size="sm" c="dimmed">
          Choose a piece to see how it darkens and lightens across its edge.
        </Text>
      ) : (
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className={classes.plot} role="img">
          <title>{`Darkest ${Math.max(...values)} % of lightness, lightest ${Math.min(...values)} %`}</title>
          <rect x={LEFT} y={8} width={x(0) - LEFT} height={BOTTOM - 8} className={classes.inside} />
          <path d={`M${LEFT} ${y(0)}H${WIDTH - 8}`} className={classes.axis} />
          <path d={`M${x(0)} 8V${BOTTOM}`} className={classes.edge} />
          <path d={line} className={classes.curve} />
          <text x={LEFT - 5} y={y(top) + 9} className={classes.value}>{`${Math.round(top)} %`}</text>
          <text x={LEFT - 5} y={y(0) + 4} className={classes.value}>
            0
          </text>
          {[-40, 0, 50, 100].map((at) => (
            <text key={at} x={x(at)} y={BOTTOM + 14} className={classes.place}>
              {at === 0 ? 'edge' : at < 0 ? 'inside' : `${at} px`}
            </text>
          ))}
        </svg>
      )}
    </section>
  );
}
