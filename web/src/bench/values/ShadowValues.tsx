import { NativeSelect, Switch } from '@mantine/core';
import type { Coat, Schemas, ShadowCoat } from '../../core/client';
import { defaults, percents, ranges } from '../../core/constants';
import { ColourField } from '../../parts/ColourField';
import { steady } from '../../parts/steady';
import type { Change } from './CoatValues';
import { FalloffField } from './FalloffField';
import { Row, Values } from './fields';
import { OffsetFields } from './OffsetFields';

interface Props {
  coat: ShadowCoat;
  said: Schemas['CoatReport'] | undefined;
  change: Change<Coat>;
}

/** The values of a drop or inner shadow. */
export function ShadowValues({ coat, said, change }: Props) {
  return (
    <>
      <OffsetFields
        offset={coat.offset}
        both={said?.offset}
        onChange={(offset, gesture) => change({ offset }, gesture)}
      />
      <Values
        of={[
          {
            label: 'Blur',
            unit: 'px',
            value: coat.blur,
            range: ranges.BlurRadius,
            slider: [0, 100],
            set: (blur) => change({ blur }),
          },
          {
            label: 'Spread',
            unit: 'px',
            value: coat.spread,
            range: ranges.Spread,
            slider: [-40, 40],
            set: (spread) => change({ spread }),
          },
        ]}
      />
      <Row label="Colour">
        <ColourField
          label="Colour"
          value={coat.colour}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </Row>
      <FalloffField value={coat.falloff} onChange={(falloff, gesture) => change({ falloff }, gesture)} />
      {coat.kind === 'drop' && (
        <Row label="Beneath">
          <KnockOut set={coat.knock_out} onChange={(knock_out) => change({ knock_out }, false)} />
        </Row>
      )}
      <Grain coat={coat} change={change} />
    </>
  );
}

function Grain({ coat, change }: { coat: ShadowCoat; change: Change<Coat> }) {
  const { grain } = coat;
  return (
    <>
      <Row label="Grain">
        <Switch
          size="xs"
          aria-label="Grain"
          checked={Boolean(grain)}
          onChange={(event) => change({ grain: event.currentTarget.checked ? defaults.grain : null }, false)}
        />
      </Row>
      {grain && (
        <Values
          of={[
            {
              label: 'Amount',
              unit: '%',
              value: grain.amount * 100,
              range: percents(ranges.Fraction),
              set: (percent) => change({ grain: { ...grain, amount: percent / 100 } }),
            },
            {
              label: 'Size',
              unit: 'px',
              value: grain.size,
              range: ranges.Length,
              slider: [0.5, 8],
              set: (size) => change({ grain: { ...grain, size } }),
            },
            {
              label: 'Seed',
              value: grain.seed,
              range: [0, 4294967295],
              slider: [0, 100],
              set: (seed) => change({ grain: { ...grain, seed: Math.round(seed) } }),
            },
          ]}
        />
      )}
    </>
  );
}

const KnockOut = steady(function KnockOut({
  set,
  onChange,
}: {
  set: boolean | null | undefined;
  onChange: (value: boolean | undefined) => void;
}) {
  const value = set === undefined || set === null ? 'usual' : set ? 'out' : 'in';
  return (
    <NativeSelect
      size="xs"
      aria-label="Under the piece"
      value={value}
      data={[
        { value: 'usual', label: 'out as usual' },
        { value: 'out', label: 'knocked out' },
        { value: 'in', label: 'runs under' },
      ]}
      onChange={(event) => {
        const chosen = event.currentTarget.value;
        onChange(chosen === 'usual' ? undefined : chosen === 'out');
      }}
    />
  );
});
