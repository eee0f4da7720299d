import { NativeSelect } from '@mantine/core';
import type { ReactNode } from 'react';
import type { Coat, CoatOf } from '../../core/client';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import { FillField } from '../../parts/FillField';
import { options } from '../../parts/options';
import { changeCoat } from '../../session/coats';
import { BlendField } from './BlendField';
import { CastValues } from './CastValues';
import type { Change, CoatProps } from './change';
import { Fold } from './Fold';
import { Row, Values } from './fields';
import { HighlightValues } from './HighlightValues';
import { factor, sigma } from './numbers';
import { OffsetFields } from './OffsetFields';
import { RaisedValues } from './RaisedValues';
import { RampValues } from './RampValues';
import { opacity, RareValues, ShadowValues } from './ShadowValues';
import { StrokeValues } from './StrokeValues';
import classes from './values.module.css';

interface AllProps extends CoatProps {
  /** What can be done with the coat as a whole. */
  actions: ReactNode;
}

/** The values of a coat, whatever its kind. Both forms of an offset come from the core. */
export function CoatValues({ coat, said, actions }: AllProps) {
  const change = (to: Partial<Coat>, gesture = true) => changeCoat(coat, to, gesture);
  const isShadow = coat.kind === 'drop' || coat.kind === 'inner';
  return (
    <div className={classes.values}>
      <KindValues coat={coat} said={said} change={change} />
      {!isShadow && <Values of={[opacity(coat, change)]} />}
      <Fold
        label={isShadow ? words.values.rareOfShadow : words.values.blend}
        set={rarelySet(coat)}
        beside={actions}
      >
        <BlendField
          coat={coat.id}
          value={coat.blend ?? 'normal'}
          onChange={(blend) => change({ blend }, false)}
        />
        {isShadow && <RareValues coat={coat} change={change} />}
        {said?.elsewhere && <p className={classes.elsewhere}>{said.elsewhere}</p>}
      </Fold>
    </div>
  );
}

/** What is set of the values that are needed rarely. */
function rarelySet(coat: Coat): string[] {
  const set = coat.blend && coat.blend !== 'normal' ? [words.values.blendSet(coat.blend)] : [];
  if (coat.kind !== 'drop' && coat.kind !== 'inner') return set;
  if (coat.falloff) set.push(words.values.falloffSet);
  if (coat.kind === 'drop' && typeof coat.knock_out === 'boolean') {
    set.push(coat.knock_out ? words.values.knockedOut : words.values.showsThrough);
  }
  if (coat.grain) set.push(words.values.grainSet);
  return set;
}

function KindValues({ coat, said, change }: CoatProps & { change: Change<Coat> }) {
  switch (coat.kind) {
    case 'drop':
    case 'inner':
      return <ShadowValues coat={coat} said={said} change={change} />;
    case 'ramp':
      return <RampValues coat={coat} said={said} change={change} />;
    case 'raised':
      return <RaisedValues coat={coat} change={change} />;
    case 'highlight':
      return <HighlightValues coat={coat} change={change} />;
    case 'tint':
      return (
        <FillField
          label={words.values.tint}
          value={coat.fill}
          onChange={(fill, gesture) => change({ fill }, gesture)}
        />
      );
    case 'stroke':
      return <StrokeValues coat={coat} change={change} />;
    case 'blur':
      return <Values of={[sigma(coat.sigma, (value) => change({ sigma: value }))]} />;
    case 'backdrop':
      return (
        <>
          <Values
            of={[
              sigma(coat.sigma, (value) => change({ sigma: value })),
              factor(words.values.saturation, coat.saturation, (saturation) => change({ saturation })),
              factor(words.values.brightness, coat.brightness, (brightness) => change({ brightness })),
            ]}
          />
          <Row label={words.values.order}>
            <NativeSelect
              size="xs"
              aria-label={words.values.order}
              value={coat.order ?? 'blur_saturation_brightness'}
              data={options(words.values.orders)}
              onChange={(event) =>
                change({ order: event.currentTarget.value as CoatOf<'backdrop'>['order'] }, false)
              }
            />
          </Row>
        </>
      );
    case 'extrude':
      return (
        <>
          <OffsetFields
            offset={coat.offset}
            both={said?.offset}
            onChange={(offset, gesture) => change({ offset }, gesture)}
          />
          <Row label={words.values.near}>
            <ColourField
              label={words.values.nearColour}
              value={coat.near}
              own
              onChange={(near, gesture) => change({ near }, gesture)}
            />
          </Row>
          <Row label={words.values.far}>
            <ColourField
              label={words.values.farColour}
              value={coat.far}
              own
              onChange={(far, gesture) => change({ far }, gesture)}
            />
          </Row>
        </>
      );
    case 'cast':
      return <CastValues coat={coat} change={change} />;
  }
}
