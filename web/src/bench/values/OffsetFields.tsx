import type { Schemas } from '../../core/client';
import { ranges } from '../../core/constants';
import { FollowSelect, type Numbers, Values } from './fields';
import classes from './values.module.css';

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
  const length = (label: string, value: number | undefined, set: (value: number) => void): Numbers => ({
    label,
    name: called(label),
    unit: 'px',
    value: value ?? null,
    range: ranges.OffsetPx,
    slider: [-60, 60],
    set,
  });
  const turned = follows === null && bearing === undefined ? undefined : distance;
  const fields: Numbers[] = [
    length('x', axes?.x, (x) => axes && onChange({ ...axes, x }, true)),
    length('y', axes?.y, (y) => axes && onChange({ ...axes, y }, true)),
    length('Distance', turned, (to) =>
      onChange(follows ? { distance: to, follows } : { distance: to, bearing: bearing ?? 0 }, true),
    ),
  ];
  if (!follows) {
    fields.push({
      label: 'Light from',
      name: called('light from'),
      unit: '°',
      value: bearing ?? null,
      range: [-360, 720],
      slider: [0, 360],
      set: (to) => distance !== undefined && onChange({ distance, bearing: to }, true),
    });
  }
  return (
    <>
      <Values of={fields} />
      <FollowSelect
        value={follows}
        name={name}
        onChange={(light) => {
          if (light && distance !== undefined) onChange({ distance, follows: light }, false);
          else if (!light && axes) onChange(axes, false);
        }}
      />
      {follows && <span className={classes.hint}>Editing x or y lets go of the light.</span>}
    </>
  );
}
