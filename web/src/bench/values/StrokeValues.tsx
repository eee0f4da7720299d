import { NativeSelect } from '@mantine/core';
import type { Coat, CoatOf } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { FillField } from '../../parts/FillField';
import { options } from '../../parts/options';
import type { Change } from './change';
import { Row, Values } from './fields';

export function StrokeValues({ coat, change }: { coat: CoatOf<'stroke'>; change: Change<Coat> }) {
  return (
    <>
      <Values
        of={[
          {
            label: words.common.width,
            unit: 'px',
            value: coat.width,
            range: ranges.Length,
            slider: [0, 24],
            set: (width) => change({ width }),
          },
        ]}
      />
      <Row label={words.values.side}>
        <NativeSelect
          size="xs"
          aria-label={words.values.sideOfTheEdge}
          value={coat.side ?? 'outside'}
          data={options(words.values.sides)}
          onChange={(event) => change({ side: event.currentTarget.value as CoatOf<'stroke'>['side'] }, false)}
        />
        <NativeSelect
          size="xs"
          aria-label={words.values.corners}
          value={coat.join ?? 'miter'}
          data={options(words.values.cornerForms)}
          onChange={(event) => change({ join: event.currentTarget.value as CoatOf<'stroke'>['join'] }, false)}
        />
      </Row>
      <FillField
        label={words.values.stroke}
        value={coat.fill}
        onChange={(fill, gesture) => change({ fill }, gesture)}
      />
    </>
  );
}
