import { NativeSelect } from '@mantine/core';
import type { Project, Schemas, ShadowCoat } from '../api/client';
import { editCoats, rest } from '../document/store';
import { ColourField } from '../parts/ColourField';
import { NumberField } from '../parts/NumberField';
import classes from './CoatValues.module.css';

interface Props {
  coat: ShadowCoat;
  document: Project;
  said: Schemas['CoatReport'] | undefined;
}

const modes: Schemas['BlendMode'][] = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
];

/** The values of a drop or inner shadow. Both forms of the offset come from the core. */
export function CoatValues({ coat, document, said }: Props) {
  const change = (to: Partial<ShadowCoat>, gesture = true) =>
    editCoats((coats) => {
      const at = coats.findIndex((other) => other.id === coat.id);
      const mine = coats[at];
      if (mine) coats[at] = { ...mine, ...to } as ShadowCoat;
    }, gesture);
  const field = { onRest: rest };
  return (
    <div className={classes.values}>
      <OffsetFields coat={coat} document={document} said={said} onChange={change} />
      <NumberField
        label="Blur"
        unit="px"
        value={coat.blur}
        min={0}
        max={4000}
        slider={[0, 100]}
        onChange={(blur) => change({ blur })}
        {...field}
      />
      <NumberField
        label="Spread"
        unit="px"
        value={coat.spread}
        min={-2000}
        max={2000}
        slider={[-40, 40]}
        onChange={(spread) => change({ spread })}
        {...field}
      />
      <div className={classes.line}>
        <span className={classes.label}>Colour</span>
        <ColourField
          label="Colour"
          value={coat.colour}
          own
          onChange={(colour, gesture) => change({ colour }, gesture)}
        />
      </div>
      <NumberField
        label="Opacity"
        unit="%"
        value={(coat.opacity ?? 1) * 100}
        min={0}
        max={100}
        slider={[0, 100]}
        onChange={(percent) => change({ opacity: percent / 100 })}
        {...field}
      />
      <div className={classes.line}>
        <span className={classes.label}>Blend</span>
        <NativeSelect
          size="xs"
          aria-label="Blend mode"
          value={coat.blend ?? 'normal'}
          data={modes}
          onChange={(event) => change({ blend: event.currentTarget.value as Schemas['BlendMode'] }, false)}
        />
        {coat.kind === 'drop' && (
          <KnockOut coat={coat} onChange={(knock_out) => change({ knock_out }, false)} />
        )}
      </div>
    </div>
  );
}

function KnockOut({ coat, onChange }: { coat: ShadowCoat; onChange: (value: boolean | undefined) => void }) {
  const set = 'knock_out' in coat ? coat.knock_out : undefined;
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
}

interface OffsetProps extends Props {
  onChange: (to: Partial<ShadowCoat>, gesture?: boolean) => void;
}

/** x and y, distance and bearing, and the light; each set of fields follows the other. */
function OffsetFields({ coat, document, said, onChange }: OffsetProps) {
  const both = said?.offset ?? { x: 0, y: 0, distance: 0, bearing: 0 };
  const { offset } = coat;
  const follows = 'follows' in offset ? offset.follows : null;
  const now = 'x' in offset ? { ...both, x: offset.x, y: offset.y } : { ...both, distance: offset.distance };
  const setDistance = (distance: number) =>
    onChange({ offset: follows ? { distance, follows } : { distance, bearing: now.bearing } });
  const follow = (light: string) =>
    onChange({ offset: light ? { distance: now.distance, follows: light } : { x: now.x, y: now.y } }, false);
  const lights = document.lights ?? [];
  return (
    <>
      <NumberField
        label="x"
        unit="px"
        value={now.x}
        min={-10000}
        max={10000}
        slider={[-60, 60]}
        onChange={(x) => onChange({ offset: { x, y: now.y } })}
        onRest={rest}
      />
      <NumberField
        label="y"
        unit="px"
        value={now.y}
        min={-10000}
        max={10000}
        slider={[-60, 60]}
        onChange={(y) => onChange({ offset: { x: now.x, y } })}
        onRest={rest}
      />
      <NumberField
        label="Distance"
        unit="px"
        value={now.distance}
        min={-10000}
        max={10000}
        slider={[-60, 60]}
        onChange={setDistance}
        onRest={rest}
      />
      {follows ? null : (
        <NumberField
          label="Light from"
          unit="°"
          value={now.bearing}
          min={-360}
          max={720}
          slider={[0, 360]}
          onChange={(bearing) => onChange({ offset: { distance: now.distance, bearing } })}
          onRest={rest}
        />
      )}
      <div className={classes.line}>
        <span className={classes.label}>Follows</span>
        <NativeSelect
          size="xs"
          aria-label="Follows the light"
          value={follows ?? ''}
          data={[
            { value: '', label: 'no light' },
            ...lights.map((light) => ({ value: light.id, label: light.name })),
          ]}
          onChange={(event) => follow(event.currentTarget.value)}
        />
        {follows && <span className={classes.hint}>Editing x or y lets go</span>}
      </div>
    </>
  );
}
