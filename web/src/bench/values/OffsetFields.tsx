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
  const resolved = both ?? { x: 0, y: 0, distance: 0, bearing: 0 };
  const follows = 'follows' in offset ? offset.follows : null;
  const now =
    'x' in offset ? { ...resolved, x: offset.x, y: offset.y } : { ...resolved, distance: offset.distance };
  const called = (label: string) => (name ? `${name} ${label}` : undefined);
  const length = (label: string, value: number, set: (value: number) => void): Numbers => ({
    label,
    name: called(label),
    unit: 'px',
    value,
    range: ranges.OffsetPx,
    slider: [-60, 60],
    set,
  });
  const fields = [
    length('x', now.x, (x) => onChange({ x, y: now.y }, true)),
    length('y', now.y, (y) => onChange({ x: now.x, y }, true)),
    length('Distance', now.distance, (distance) =>
      onChange(follows ? { distance, follows } : { distance, bearing: now.bearing }, true),
    ),
  ];
  if (!follows) {
    fields.push({
      label: 'Light from',
      name: called('light from'),
      unit: '°',
      value: now.bearing,
      range: [-360, 720],
      slider: [0, 360],
      set: (bearing) => onChange({ distance: now.distance, bearing }, true),
    });
  }
  return (
    <>
      <Values of={fields} />
      <FollowSelect
        value={follows}
        name={name}
        onChange={(light) =>
          onChange(light ? { distance: now.distance, follows: light } : { x: now.x, y: now.y }, false)
        }
      />
      {follows && <span className={classes.hint}>Editing x or y lets go of the light.</span>}
    </>
  );
}
