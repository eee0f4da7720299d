import { Button, NativeSelect } from '@mantine/core';
import type { Coat, CoatOf } from '../../core/client';
import { interaction, limits, percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import type { Change, CoatProps } from './change';
import { Row, Values } from './fields';
import { blur } from './numbers';
import { OffsetFields } from './OffsetFields';
import { split } from './split';
import classes from './values.module.css';

export function RampValues({
  coat,
  said,
  change,
}: CoatProps & { coat: CoatOf<'ramp'>; change: Change<Coat> }) {
  const ends = [
    {
      name: words.values.near,
      end: coat.near,
      both: said?.offset,
      set: (near: typeof coat.near) => ({ near }),
    },
    {
      name: words.values.far,
      end: coat.far,
      both: said?.far,
      set: (far: typeof coat.far) => ({ far }),
    },
  ];
  return (
    <>
      <Row label={words.values.shadows}>
        <NativeSelect
          size="xs"
          aria-label={words.values.kindOfShadows}
          value={coat.shadow}
          data={[
            { value: 'drop', label: words.values.drop },
            { value: 'inner', label: words.values.inner },
          ]}
          onChange={(event) => change({ shadow: event.currentTarget.value as 'drop' | 'inner' }, false)}
        />
      </Row>
      <Values
        of={[
          {
            label: words.values.count,
            value: coat.count,
            range: [1, limits.rampSteps],
            set: (count) => change({ count: Math.round(count) }),
          },
          {
            label: words.values.growth,
            value: coat.growth,
            range: interaction.ramp.growth,
            slider: [0.5, 3],
            set: (growth) => change({ growth }),
          },
          {
            label: words.values.lean,
            value: coat.lean,
            range: interaction.ramp.lean,
            set: (lean) => change({ lean }),
          },
          {
            label: words.values.totalOpacity,
            unit: '%',
            value: coat.total * 100,
            range: percents(interaction.ramp.total),
            set: (percent) => change({ total: percent / 100 }),
          },
        ]}
      />
      {ends.map(({ name, end, both, set }) => (
        <fieldset key={name} className={classes.end}>
          <legend>{words.values.shadow(name)}</legend>
          <OffsetFields
            offset={end.offset}
            both={both ?? undefined}
            name={name}
            onChange={(offset, gesture) => change(set({ ...end, offset }), gesture)}
          />
          <Values
            of={[
              {
                ...blur(words.common.blur, end.blur, (value) => change(set({ ...end, blur: value }))),
                name: words.values.blur(name),
              },
              {
                label: words.common.spread,
                name: words.values.spread(name),
                unit: 'px',
                value: end.spread,
                range: ranges.Spread,
                slider: [-40, 40],
                set: (spread) => change(set({ ...end, spread })),
              },
            ]}
          />
          <Row label={words.values.colour}>
            <ColourField
              label={words.values.colourWithName(name)}
              value={end.colour}
              own
              onChange={(colour, gesture) => change(set({ ...end, colour }), gesture)}
            />
          </Row>
        </fieldset>
      ))}
      <Button size="compact-xs" variant="default" onClick={() => void split(coat)}>
        {words.values.splitIntoCoats(coat.count)}
      </Button>
    </>
  );
}
