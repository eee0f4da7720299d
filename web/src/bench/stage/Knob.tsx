import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import { words } from '../../messages';
import { type Ask, drag, type Moving } from '../../parts/drag';
import { commit } from '../../session/store';
import classes from './Handles.module.css';

interface Props {
  name: string;
  /** On the scene, in px. */
  x: number;
  y: number;
  scale: number;
  shape?: 'square' | 'ring';
  cursor?: string;
  /** Called at the press; what it gives follows the drag. */
  onHold: () => Moving;
  onDone?: () => void;
}

/** A handle on the stage; arrow keys move it by 1 px, with Shift by 10, with Alt by a tenth. */
export function Knob({ name, x, y, scale, shape, cursor, onHold, onDone }: Props) {
  const press = (event: PointerEvent) => drag(event, scale, onHold(), onDone);
  const pressed = useRef(false);
  const ask: Ask = (answer, change) => {
    void answer.then((found) => {
      change(found);
      if (!pressed.current) commit();
    });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const [right, down] = arrows[event.key] ?? [0, 0];
    if (right === 0 && down === 0) return;
    event.preventDefault();
    event.stopPropagation();
    pressed.current = true;
    const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    onHold()(right * by, down * by, { altKey: true } as unknown as globalThis.PointerEvent, ask);
    onDone?.();
  };
  const onKeyUp = (event: KeyboardEvent) => {
    // As long as an arrow is held it is one step to undo.
    if (!(event.key in arrows)) return;
    pressed.current = false;
    commit();
  };
  return (
    <button
      type="button"
      aria-label={name}
      title={name}
      aria-description={words.stage.at(Math.round(x * 10) / 10, Math.round(y * 10) / 10)}
      className={classes.knob}
      data-shape={shape}
      style={{ left: x * scale, top: y * scale, cursor }}
      onPointerDown={press}
      onKeyDown={onKeyDown}
      onKeyUp={onKeyUp}
      onBlur={commit}
    />
  );
}

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
