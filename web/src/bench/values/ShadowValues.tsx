import { NativeSelect, Switch } from '@mantine/core';
import type { Coat, Schemas, ShadowCoat } from '../../core/client';
import { defaults, percents, ranges } from '../../core/constants';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import { steady } from '../../parts/steady';
import type { Change } from './change';
import { FalloffField } from './FalloffField';
import { type Numbers, Row, Values } from './fields';
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
            label: words.common.blur,
            unit: 'px',
            value: coat.blur,
            range: ranges.BlurRadius,
            slider: [0, 100],
            set: (blur) => change({ blur }),
          },
          {
            label: words.common.spread,
            unit: 'px',
            value: coat.spread,
            range: ranges.Spread,
            slider: [-40, 40],
            set: (spread) => change({ spread }),
          },
          opacity(coat, change),
        ]}
      />
      <Row label={words.values.colour}>
        <ColourField
          label={words.values.colour}
          value={coat.colour}
          seen={said?.colour ?? undefined}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </Row>
    </>
  );
}

/** How much of a coat is seen. */
export function opacity(coat: Coat, change: Change<Coat>): Numbers {
  return {
    label: words.common.opacity,
    unit: '%',
    value: (coat.opacity ?? 1) * 100,
    range: percents(ranges.Fraction),
    set: (percent) => change({ opacity: percent / 100 }),
  };
}

/** Values of a shadow that are needed rarely. */
export function RareValues({ coat, change }: Omit<Props, 'said'>) {
  return (
    <>
      <FalloffField value={coat.falloff} onChange={(falloff, gesture) => change({ falloff }, gesture)} />
      {coat.kind === 'drop' && (
        <Row label={words.values.through}>
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
      <Row label={words.values.grain}>
        <Switch
          size="xs"
          aria-label={words.values.grain}
          checked={Boolean(grain)}
          onChange={(event) => change({ grain: event.currentTarget.checked ? defaults.grain : null }, false)}
        />
      </Row>
      {grain && (
        <Values
          of={[
            {
              label: words.values.amount,
              unit: '%',
              value: grain.amount * 100,
              range: percents(ranges.Fraction),
              set: (percent) => change({ grain: { ...grain, amount: percent / 100 } }),
            },
            {
              label: words.common.size,
              unit: 'px',
              value: grain.size,
              range: ranges.Length,
              slider: [0.5, 8],
              set: (size) => change({ grain: { ...grain, size } }),
            },
            {
              label: words.values.seed,
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
      aria-label={words.values.through}
      value={value}
      data={[
        { value: 'usual', label: words.values.automatic },
        { value: 'out', label: words.values.no },
        { value: 'in', label: words.values.yes },
      ]}
      onChange={(event) => {
        const chosen = event.currentTarget.value;
        onChange(chosen === 'usual' ? undefined : chosen === 'out');
      }}
    />
  );
});
