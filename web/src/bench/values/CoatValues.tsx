import { Button, NativeSelect } from '@mantine/core';
import type { ReactNode } from 'react';
import type { Coat, Schemas } from '../../core/client';
import { limits, percents, ranges } from '../../core/constants';
import { askCore } from '../../core/core';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import { FillField } from '../../parts/FillField';
import { options } from '../../parts/options';
import { changeCoat } from '../../session/coats';
import { commit, editCoats, useDocument } from '../../session/store';
import { BlendField } from './BlendField';
import { Fold } from './Fold';
import { FollowSelect, type Numbers, Row, Values } from './fields';
import { OffsetFields } from './OffsetFields';
import { opacity, RareValues, ShadowValues } from './ShadowValues';
import classes from './values.module.css';

interface Props {
  coat: Coat;
  said: Schemas['CoatReport'] | undefined;
}

interface AllProps extends Props {
  /** What can be done with the coat as a whole. */
  actions: ReactNode;
}

/** Changes one coat; a gesture is one step to undo, ended by `commit`. */
export type Change<C extends Coat> = (to: Partial<C>, gesture?: boolean) => void;

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

function KindValues({ coat, said, change }: Props & { change: Change<Coat> }) {
  switch (coat.kind) {
    case 'drop':
    case 'inner':
      return <ShadowValues coat={coat} said={said} change={change} />;
    case 'ramp':
      return <RampValues coat={coat} said={said} change={change} />;
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
                change({ order: event.currentTarget.value as Of<'backdrop'>['order'] }, false)
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

function sigma(value: number, set: (value: number) => void): Numbers {
  return { label: words.values.sigma, unit: 'px', value, range: ranges.Sigma, slider: [0, 40], set };
}

function factor(label: string, value: number | null | undefined, set: (value: number) => void): Numbers {
  return {
    label,
    unit: '%',
    value: (value ?? 1) * 100,
    range: percents(ranges.Factor),
    slider: [0, 200],
    set: (percent) => set(percent / 100),
  };
}

type Of<K extends Coat['kind']> = Extract<Coat, { kind: K }>;

function HighlightValues({ coat, change }: { coat: Of<'highlight'>; change: Change<Coat> }) {
  const { spot } = coat;
  const move = (to: Partial<typeof spot>) => change({ spot: { ...spot, ...to } });
  const size: Numbers[] = [];
  const { shape } = spot;
  if (shape.kind === 'ellipse' || shape.kind === 'box') {
    size.push(
      {
        label: words.common.width,
        unit: 'px',
        value: shape.w,
        range: ranges.Size,
        slider: [0, 400],
        set: (w) => move({ shape: { ...shape, w } }),
      },
      {
        label: words.common.height,
        unit: 'px',
        value: shape.h,
        range: ranges.Size,
        slider: [0, 400],
        set: (h) => move({ shape: { ...shape, h } }),
      },
    );
  }
  return (
    <>
      <Values
        of={[
          {
            label: words.common.left,
            unit: 'px',
            value: spot.x,
            range: ranges.Px,
            slider: [-100, 400],
            set: (x) => move({ x }),
          },
          {
            label: words.common.top,
            unit: 'px',
            value: spot.y,
            range: ranges.Px,
            slider: [-100, 400],
            set: (y) => move({ y }),
          },
          ...size,
          blur(words.common.blur, coat.blur, (value) => change({ blur: value })),
        ]}
      />
      <FollowSelect value={coat.follows ?? null} onChange={(follows) => change({ follows }, false)} />
      <FillField
        label={words.common.light}
        value={coat.fill}
        onChange={(fill, gesture) => change({ fill }, gesture)}
      />
    </>
  );
}

function blur(label: string, value: number, set: (value: number) => void): Numbers {
  return { label, unit: 'px', value, range: ranges.BlurRadius, slider: [0, 100], set };
}

function StrokeValues({ coat, change }: { coat: Of<'stroke'>; change: Change<Coat> }) {
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
          onChange={(event) => change({ side: event.currentTarget.value as Of<'stroke'>['side'] }, false)}
        />
        <NativeSelect
          size="xs"
          aria-label={words.values.corners}
          value={coat.join ?? 'miter'}
          data={options(words.values.cornerForms)}
          onChange={(event) => change({ join: event.currentTarget.value as Of<'stroke'>['join'] }, false)}
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

function CastValues({ coat, change }: { coat: Of<'cast'>; change: Change<Coat> }) {
  const share = (
    label: string,
    value: number,
    slider: [number, number],
    set: (value: number) => void,
  ): Numbers => ({
    label,
    unit: '%',
    value: value * 100,
    range: percents(ranges.Relative),
    slider,
    set: (percent) => set(percent / 100),
  });
  return (
    <>
      <Values
        of={[
          share(words.values.shear, coat.shear, [-200, 200], (shear) => change({ shear })),
          share(words.values.squash, coat.squash, [-150, 150], (squash) => change({ squash })),
          share(words.values.anchor, coat.anchor, [0, 120], (anchor) => change({ anchor })),
          blur(words.values.blurNear, coat.blur_near, (blur_near) => change({ blur_near })),
          blur(words.values.blurFar, coat.blur_far, (blur_far) => change({ blur_far })),
          {
            label: words.common.fade,
            unit: '%',
            value: coat.fade * 100,
            range: percents(ranges.Fraction),
            set: (percent) => change({ fade: percent / 100 }),
          },
        ]}
      />
      <FollowSelect value={coat.follows ?? null} onChange={(follows) => change({ follows }, false)} />
      <Row label={words.values.colour}>
        <ColourField
          label={words.values.colour}
          value={coat.colour}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </Row>
    </>
  );
}

function RampValues({ coat, said, change }: Props & { coat: Of<'ramp'>; change: Change<Coat> }) {
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
            range: [0.01, ranges.Factor[1]],
            slider: [0.5, 3],
            set: (growth) => change({ growth }),
          },
          {
            label: words.values.lean,
            value: coat.lean,
            range: [-0.99, 0.99],
            set: (lean) => change({ lean }),
          },
          {
            label: words.values.totalOpacity,
            unit: '%',
            value: coat.total * 100,
            range: [0, 99.9],
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

/** Puts the coats a ramp stands for in its place. They come from the core and draw the same. */
async function split(coat: Of<'ramp'>) {
  const { document, scene, piece } = useDocument.getState();
  if (!document || !scene || !piece) return;
  const found = await askCore('/api/split', { project: document, scene, piece, coat: coat.id });
  commit();
  editCoats((coats) => {
    const at = coats.findIndex((other) => other.id === coat.id);
    if (at >= 0) coats.splice(at, 1, ...(found.coats as Coat[]));
  });
}
