import { type KeyboardEvent, type PointerEvent, useId, useRef, useState } from 'react';
import classes from './NumberField.module.css';
import { workOut } from './sums';

interface Props {
  label: string;
  /** What it is called where the label alone would not tell it apart. */
  name?: string;
  value: number;
  unit?: string;
  /** What the value may be; the field takes nothing else. */
  min: number;
  max: number;
  /** The comfortable range of the slider; typing goes past it. */
  slider?: [number, number];
  onChange: (value: number) => void;
  /** Called when a drag ends, so that it is one step to undo. */
  onRest?: () => void;
}

/** A number with its unit: arrows step by 1, with Shift by 10, with Alt by 0.1; drag on the label; sums are worked out. */
export function NumberField(props: Props) {
  const { label, name, value, unit, min, max, slider, onChange, onRest } = props;
  const id = useId();
  const [draft, setDraft] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const drag = useRef<{ x: number; y: number; value: number } | null>(null);

  const set = (next: number) => onChange(Math.min(max, Math.max(min, tidy(next))));
  const commit = () => {
    if (draft === null) return;
    const typed = workOut(draft);
    if (typed === null || typed < min || typed > max) {
      setWrong(`${label}: from ${min} to ${max}`);
      return;
    }
    setDraft(null);
    setWrong(null);
    if (typed !== value) onChange(typed);
    onRest?.();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter') commit();
    if (event.key === 'Escape') {
      setDraft(null);
      setWrong(null);
    }
    const direction = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (direction !== 0) {
      event.preventDefault();
      const from = draft === null ? value : (workOut(draft) ?? value);
      setDraft(null);
      setWrong(null);
      set(from + direction * stepOf(event));
      onRest?.();
    }
  };
  const scrub = {
    onPointerDown: (event: PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, y: event.clientY, value };
    },
    onPointerMove: (event: PointerEvent) => {
      const from = drag.current;
      if (from) set(from.value + finer(event.clientX - from.x, event.clientY - from.y) * stepOf(event));
    },
    onPointerUp: () => {
      drag.current = null;
      onRest?.();
    },
  };
  return (
    <div className={classes.field} data-wrong={wrong !== null || undefined}>
      <label htmlFor={id} className={classes.label} title="Drag to change" {...scrub}>
        {label}
      </label>
      {slider && (
        <input
          type="range"
          className={classes.slider}
          aria-label={`${name ?? label}, slider`}
          min={slider[0]}
          max={slider[1]}
          step={slider[1] - slider[0] >= 20 ? 1 : 0.01}
          value={value}
          onChange={(event) => set(Number(event.currentTarget.value))}
          onPointerUp={onRest}
          onKeyUp={onRest}
        />
      )}
      <span className={classes.box}>
        <input
          id={id}
          aria-label={name}
          className={classes.input}
          inputMode="decimal"
          autoComplete="off"
          value={draft ?? shown(value)}
          title={shown(value) === String(tidy(value)) ? undefined : String(tidy(value))}
          aria-invalid={wrong !== null}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(event) => setDraft(event.currentTarget.value)}
          onBlur={commit}
          onKeyDown={onKeyDown}
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
