import { Text } from '@mantine/core';
import { useMemo } from 'react';
import { useAnswered } from '../core/answers';
import type { Project, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import view from '../parts/view.module.css';

import classes from './Check.module.css';
import type { Screen } from './screens';

interface Props {
  project: Project;
  scene: string;
  screen: Screen;
  sight: Schemas['ViewingConditions'];
  density: number;
}

/** Each piece of the scene in numbers, the hardest to see first. */
export function Pieces({ project, scene, screen, sight, density }: Props) {
  const { distance, px_per_inch, degrees } = sight;
  const asked = useMemo(
    () => ({
      project,
      scene,
      screen,
      sight: { distance, px_per_inch, degrees },
      density,
    }),
    [project, scene, screen, distance, px_per_inch, degrees, density],
  );
  const ask = async (body: typeof asked, signal: AbortSignal) => await askCore('/api/sights', body, signal);
  const seen = useAnswered(asked, ask, { pause: 0, cancels: true });
  if (seen.failure) {
    return (
      <Text size="sm" c="red" role="alert" mt={12}>
        {seen.failure}
      </Text>
    );
  }
  const rows = [...(seen.answer ?? [])].sort((a, b) => a.sight.contrast - b.sight.contrast);
  if (rows.length === 0) return null;
  return (
    <section aria-label={words.check.contrastOfPieces} className={classes.pieces}>
      <h2 className={view.heading}>{words.check.contrastOfPieces}</h2>
      <table className={view.table}>
        <thead>
          <tr>
            <th scope="col">{words.common.piece}</th>
            <th scope="col">{words.check.what}</th>
            <th scope="col" className={view.figure}>
              {words.check.weakestContrast}
            </th>
            <th scope="col" className={view.figure}>
              {words.check.needed}
            </th>
            <th scope="col" className={view.figure}>
              {words.check.leftWhenSquinting}
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row key={row.piece} row={row} />
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Row({ row: { name, sight } }: { row: Schemas['SeenPiece'] }) {
  const text = sight.squinted == null;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>{text ? 'letters' : 'edge'}</td>
      <td className={view.number}>{words.check.to1(sight.contrast.toFixed(2))}</td>
      <td className={view.number}>
        {sight.needed}
        {text ? '' : words.check.ifUsed}
      </td>
      <td className={view.number}>{text ? '' : `${Math.round((sight.squinted ?? 0) * 100)} %`}</td>
    </tr>
  );
}
