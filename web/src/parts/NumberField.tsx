import { type KeyboardEvent, type PointerEvent, useId, useState } from 'react';
import { words } from '../messages';
import { follow } from './drag';
import classes from './NumberField.module.css';
import { workOut } from './sums';

interface Props {
  label: string;
  /** What it is called where the label alone would not tell it apart. */
  name?: string;
  /** Null as long as it is not known. */
  value: number | null;
  unit?: string;
  /** What the value may be; the field takes nothing else. */
  min: number;
  max: number;
  /** The comfortable range of the slider; typing goes past it. */
  slider?: [number, number];
  /** The label inside the box. */
  compact?: boolean;
  onChange: (value: number) => void;
  /** Called when a drag ends, so that it is one step to undo. */
  onCommit?: () => void;
}

/** A number with its unit: arrows step by 1, with Shift by 10, with Alt by 0.1; drag on the label; sums are worked out. */
export function NumberField(props: Props) {
  const { label, name, unit, min, max, slider, compact, onChange, onCommit } = props;
  const known = props.value !== null;
  const value = props.value ?? 0;
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);

  const [from, to] = slider ?? [min, max];
  // In a narrow range a step of 1 would be from end to end.
  const unitStep = to - from <= NARROW ? 0.1 : 1;
  const set = (next: number) => onChange(Math.min(max, Math.max(min, tidy(next))));
  const take = () => {
    if (draft === null) return;
    const typed = workOut(draft, unit);
    if (typed === null) return setWrong(words.parts.aNumber(label, unit));
    if (typed < min || typed > max) return setWrong(words.parts.fromTo(label, min, max));
    setDraft(null);
    setWrong(null);
    if (typed !== value) onChange(typed);
    onCommit?.();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') take();
    if (event.key === 'Escape' && draft !== null) {
      event.preventDefault();
      setDraft(null);
      setWrong(null);
    }
    const direction = directions[event.key] ?? 0;
    if (direction !== 0) {
      event.preventDefault();
      const begin = draft === null ? value : (workOut(draft, unit) ?? value);
      setDraft(null);
      setWrong(null);
      set(begin + direction * stepOf(event) * unitStep);
    }
  };
  // As long as a key is held it is one step to undo.
  const onKeyUp = (event: KeyboardEvent) => directions[event.key] && onCommit?.();
  const scrub = (event: PointerEvent) => {
    if (event.button !== 0 || !known) return;
    const { clientX, clientY } = event;
    follow(event, {
      move: (now) =>
        set(value + finer(now.clientX - clientX, now.clientY - clientY) * stepOf(now) * unitStep),
      end: (released) => {
        if (!released) set(value);
        onCommit?.();
      },
    });
  };
  return (
    <div className={compact ? classes.compact : classes.field} data-wrong={wrong !== null || undefined}>
      <label htmlFor={id} className={classes.label} title={words.parts.dragToChange} onPointerDown={scrub}>
        {label}
      </label>
      {slider && (
        <input
          type="range"
          className={classes.slider}
          aria-label={words.parts.slider(name ?? label)}
          min={slider[0]}
          max={slider[1]}
          step={slider[1] - slider[0] >= 20 ? 1 : 0.01}
          value={value}
          disabled={!known}
          onChange={(event) => set(Number(event.currentTarget.value))}
          onPointerUp={onCommit}
          onPointerCancel={onCommit}
          onKeyUp={onCommit}
          onBlur={onCommit}
        />
      )}
      <span className={classes.box}>
        <input
          id={id}
          aria-label={name}
          className={classes.input}
          inputMode="decimal"
          autoComplete="off"
          value={draft ?? (known ? shown(value) : '')}
          disabled={!known}
          title={shown(value) === String(tidy(value)) ? undefined : String(tidy(value))}
          aria-invalid={wrong !== null}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => setDraft(event.currentTarget.value)}
          onBlur={() => {
            take();
            onCommit?.();
          }}
          data-draft={draft !== null || undefined}
          onKeyDown={onKeyDown}
          onKeyUp={onKeyUp}
        />
        {unit && <span className={classes.unit}>{unit}</span>}
      </span>
      {wrong && (
        <span role="alert" className={classes.wrong}>
          {wrong}
        </span>
      )}
    </div>
  );
}

/** Where a range is no wider, arrows step by a tenth of what they do elsewhere. */
const NARROW = 4;

const directions: Record<string, number> = { ArrowUp: 1, ArrowDown: -1 };

/** The farther the pointer is pulled away from the line, the finer a drag along it works. */
export function finer(along: number, across: number): number {
  const away = Math.max(0, Math.abs(across) - 40);
  return along / (1 + away / 40);
}

function stepOf(event: { shiftKey: boolean; altKey: boolean }): number {
  if (event.shiftKey) return 10;
  return event.altKey ? 0.1 : 1;
}

/** Steps of a tenth leave no digits behind. */
function tidy(value: number): number {
  return Number(value.toFixed(6));
}

/** Three decimals at most fit into the field; nothing is rounded but what is shown. */
function shown(value: number): string {
  return String(Number(value.toFixed(3)));
}
