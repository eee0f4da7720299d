import { Popover, Text, UnstyledButton } from '@mantine/core';
import type { PointerEvent } from 'react';
import type { Project } from '../api/client';
import { edit, rest, useDocument } from '../document/store';
import { NumberField } from '../parts/NumberField';
import classes from './LightDial.module.css';

/** Every shared light on a dial; turning one moves all coats that follow it. */
export function LightDial() {
  const document = useDocument((state) => state.document);
  const lights = document?.lights ?? [];
  if (!document || lights.length === 0) return null;
  const turn = (index: number, bearing: number, gesture: boolean) =>
    edit((draft) => {
      const light = draft.lights?.[index];
      if (light) light.bearing = bearing;
    }, gesture);
  const drag = (index: number) => (event: PointerEvent) => {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId);
    if (event.buttons !== 1) return;
    const dial = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!dial) return;
    const dx = event.clientX - dial.left - dial.width / 2;
    const dy = event.clientY - dial.top - dial.height / 2;
    const degrees = (Math.atan2(dx, -dy) * 180) / Math.PI;
    const held = event.altKey ? Math.round(degrees) : Math.round(degrees / 15) * 15;
    turn(index, (held + 360) % 360, true);
  };
  return (
    <section aria-label="Light" className={classes.corner}>
      <div className={classes.dial}>
        {lights.map((light, index) => (
          <span
            key={light.id}
            className={classes.hand}
            style={{ rotate: `${light.bearing}deg` }}
            title={`${light.name}: drag to turn; with Alt by single degrees`}
            onPointerDown={drag(index)}
            onPointerMove={drag(index)}
            onPointerUp={rest}
          />
        ))}
      </div>
      {lights.map((light, index) => (
        <Popover key={light.id} position="bottom-end" withArrow>
          <Popover.Target>
            <UnstyledButton className={classes.name}>
              {light.name} {light.bearing}°
              <Text span className={classes.count}>
                {followersOf(document, light.id)} follow
              </Text>
            </UnstyledButton>
          </Popover.Target>
          <Popover.Dropdown>
            <NumberField
              label="Bearing"
              unit="°"
              value={light.bearing}
              min={-36000}
              max={36000}
              slider={[0, 360]}
              onChange={(bearing) => turn(index, bearing, true)}
              onRest={rest}
            />
          </Popover.Dropdown>
        </Popover>
      ))}
    </section>
  );
}

/** How many coats of the project follow a light. */
function followersOf(document: Project, light: string): number {
  const text = JSON.stringify([document.finishes, document.scenes]);
  return text.split(`"follows":${JSON.stringify(light)}`).length - 1;
}
