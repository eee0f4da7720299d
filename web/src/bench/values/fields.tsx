import { NativeSelect } from '@mantine/core';
import type { ReactNode } from 'react';
import { words } from '../../messages';
import { NumberField } from '../../parts/NumberField';
import { steady } from '../../parts/steady';
import { commit, useDocument } from '../../session/store';
import classes from './values.module.css';

/** One number of a coat or piece. */
export interface Numbers {
  label: string;
  /** What it is called where the label alone would not tell it apart. */
  name?: string;
  unit?: string;
  /** Null as long as it is not known. */
  value: number | null;
  range: [number, number];
  /** The slider's comfortable range; the whole range where there is none. */
  slider?: [number, number];
  set: (value: number) => void;
}

/** Number fields, one below the other; or compact, without sliders. */
export function Values({ of, compact }: { of: Numbers[]; compact?: boolean }) {
  return of.map(({ label, name, unit, value, range, slider, set }) => (
    <NumberField
      key={name ?? label}
      label={label}
      name={name}
      unit={unit}
      value={value}
      min={range[0]}
      max={range[1]}
      compact={compact}
      slider={compact ? undefined : (slider ?? range)}
      onChange={set}
      onCommit={commit}
    />
  ));
}

/** A label with something beside it. */
export function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className={classes.line}>
      <span className={classes.label}>{label}</span>
      {children}
    </div>
  );
}

interface FollowProps {
  value: string | null;
  name?: string;
  onChange: (light: string | null) => void;
}

/** The light something follows, or none. */
export const FollowSelect = steady(function FollowSelect(props: FollowProps) {
  return (
    <Row label={words.values.follows}>
      <LightSelect {...props} />
    </Row>
  );
});

/** The same, without a label beside it. */
export const LightSelect = steady(function LightSelect({ value, name, onChange }: FollowProps) {
  const lights = useDocument((state) => state.document?.lights);
  return (
    <NativeSelect
      size="xs"
      aria-label={name ? words.values.followsTheLight(name) : words.values.followsALight}
      value={value ?? ''}
      data={[
        { value: '', label: words.values.noLight },
        ...(lights ?? []).map((light) => ({ value: light.id, label: light.name })),
      ]}
      onChange={(event) => onChange(event.currentTarget.value || null)}
    />
  );
});
