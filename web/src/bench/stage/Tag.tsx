import { useState } from 'react';
import { workOut } from '../../parts/sums';
import { commit } from '../../session/store';
import classes from './Handles.module.css';

/** A value that stands on the stage. */
export interface Tagged {
  label: string;
  name: string;
  value: number;
  range: [number, number];
  onChange: (value: number) => void;
}

/** A value on the stage; it takes typing. */
export function Tag({ label, name, value, range: [min, max], onChange }: Tagged) {
  const [draft, setDraft] = useState<string | null>(null);
  const typed = draft === null ? value : workOut(draft);
  const wrong = typed === null || typed < min || typed > max;
  const take = () => {
    if (draft !== null && !wrong) {
      onChange(typed);
      commit();
    }
    setDraft(null);
  };
  const shown = draft ?? String(Number(value.toFixed(2)));
  return (
    <label className={classes.tag} data-wrong={wrong || undefined}>
      {label}
      <input
        aria-label={name}
        aria-invalid={wrong}
        value={shown}
        style={{ width: `${Math.max(2, shown.length) + 0.5}ch` }}
        inputMode="decimal"
        data-draft={draft !== null || undefined}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setDraft(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') take();
          if (event.key === 'Escape' && draft !== null) {
            event.preventDefault();
            setDraft(null);
          }
        }}
      />
    </label>
  );
}
