import type { Schemas } from '../../core/client';
import { ranges } from '../../core/constants';
import { words } from '../../messages';
import { FollowSelect, LightSelect, type Numbers, Values } from './fields';
import { OffsetPad } from './OffsetPad';
import pad from './OffsetPad.module.css';

type Offset = Schemas['Offset'];

interface Props {
  offset: Offset;
  /** Both forms, as the core resolved them. */
  both: Schemas['ResolvedOffset'] | null | undefined;
  /** What tells these fields from others in the same coat. */
  name?: string;
  onChange: (offset: Offset, gesture: boolean) => void;
}

/** x and y, distance and bearing, and the light; each set of fields follows the other. */
export function OffsetFields({ offset, both, name, onChange }: Props) {
  const follows = 'follows' in offset ? offset.follows : null;
  // What is stored is known at once; the other form when the core has resolved it.
  const now: Partial<Schemas['ResolvedOffset']> = { ...both, ...offset };
  const axes = now.x !== undefined && now.y !== undefined ? { x: now.x, y: now.y } : null;
  const { distance, bearing } = now;
  const called = (label: string) => (name ? `${name} ${label}` : undefined);
  const length = (label: string, value: number | null, set: (value: number) => void): Numbers => ({
    label,
    name: called(label),
    unit: 'px',
    value,
    range: ranges.OffsetPx,
    slider: [-60, 60],
    set,
  });
  // The form that is not stored has as many decimals as there is room for.
  const shown = (form: 'x' | 'y' | 'distance' | 'bearing', decimals: number) => {
    const value = now[form];
    if (value === undefined) return null;
    return form in offset ? value : Number(value.toFixed(decimals));
  };
  const turned = follows === null && bearing === undefined ? null : shown('distance', 2);
  const fields: Numbers[] = [
    length('x', axes && shown('x', 2), (x) => axes && onChange({ ...axes, x }, true)),
    length('y', axes && shown('y', 2), (y) => axes && onChange({ ...axes, y }, true)),
    {
      ...length(words.common.distance, turned, (to) =>
        onChange(follows ? { distance: to, follows } : { distance: to, bearing: bearing ?? 0 }, true),
      ),
      // The word takes the room of the unit, so that the number is whole.
      unit: undefined,
    },
  ];
  if (!follows) {
    fields.push({
      // Short, so that there is room for three digits and a decimal.
      label: words.values.lightAngleShort,
      name: called(words.values.lightAngleLower) ?? words.values.lightAngle,
      unit: '°',
      value: shown('bearing', 1),
      range: [-360, 720],
      slider: [0, 360],
      set: (to) => distance !== undefined && onChange({ distance, bearing: to }, true),
    });
  }
  const follow = (light: string | null) => {
    if (light && distance !== undefined) onChange({ distance, follows: light }, false);
    else if (!light && axes) onChange(axes, false);
  };
  const whole = axes && distance !== undefined && bearing !== undefined;
  return (
    <>
      <div className={pad.offset}>
        {whole ? (
          <OffsetPad offset={offset} both={{ ...axes, distance, bearing }} name={name} onChange={onChange} />
        ) : (
          <span className={pad.pad} />
        )}
        <Values compact of={fields} />
        {follows && (
          <div className={pad.light} title={words.values.stopsFollowing}>
            <LightSelect value={follows} name={name} onChange={follow} />
            {bearing !== undefined && (
              <span className={pad.angle}>{words.common.degrees(Number(bearing.toFixed(1)))}</span>
            )}
          </div>
        )}
      </div>
      {!follows && <FollowSelect value={follows} name={name} onChange={follow} />}
    </>
  );
}
