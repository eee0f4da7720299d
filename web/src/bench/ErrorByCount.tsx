import type { Schemas } from '../core/client';
import { words } from '../messages';
import classes from './FewerCoats.module.css';

interface Props {
  found: Schemas['FewerPicture'][];
  chosen: number;
}

const [WIDTH, HEIGHT, LEFT, BELOW, TOP] = [300, 150, 44, 22, 10];

/** How far each stack is off at worst, against its number of shadows, on a logarithmic scale. */
export function ErrorByCount({ found, chosen }: Props) {
  const worst = found.map((fewer) => Math.max(0.1, fewer.error.worst));
  const most = Math.max(2, ...worst);
  const across = (at: number) => LEFT + ((at + 0.5) / found.length) * (WIDTH - LEFT);
  const down = (value: number) =>
    TOP + (Math.log(most / value) / Math.log(most / 0.1)) * (HEIGHT - BELOW - TOP);
  const line = worst.map((value, at) => `${at === 0 ? 'M' : 'L'}${across(at)} ${down(value)}`).join('');
  const marks = [0.1, 1, 10, 100].filter((value) => value <= most);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" className={classes.plot}>
      <title>{words.bench.errorByCount}</title>
      {marks.map((value) => (
        <g key={value}>
          <path d={`M${LEFT} ${down(value)}H${WIDTH}`} data-unseen={value === 1 || undefined} />
          <text x={LEFT - 6} y={down(value) + 4} textAnchor="end">
            {value}
          </text>
        </g>
      ))}
      <path d={line} className={classes.curve} />
      {found.map((fewer, at) => (
        <g key={fewer.shadows}>
          <circle
            cx={across(at)}
            cy={down(worst[at] ?? 0.1)}
            r={4}
            data-chosen={fewer.shadows === chosen || undefined}
          />
          <text x={across(at)} y={HEIGHT - 5} textAnchor="middle">
            {fewer.shadows}
          </text>
        </g>
      ))}
    </svg>
  );
}
