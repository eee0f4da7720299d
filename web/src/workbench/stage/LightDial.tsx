import { Button, Popover, Text, TextInput, UnstyledButton } from '@mantine/core';
import type { PointerEvent } from 'react';
import type { Project, Schemas } from '../../api/client';
import { addLight, bearingIn, editLight, removeLight, turnLight, usesOf } from '../../document/shared';
import {
  choosePiece,
  chooseScene,
  coatsOf,
  openCoat,
  rest,
  sceneOf,
  useDocument,
} from '../../document/store';
import { ColourField } from '../../parts/ColourField';
import { NumberField } from '../../parts/NumberField';
import classes from './LightDial.module.css';

type Light = Schemas['Light'];

/** Every shared light on a dial; turning one moves all coats that follow it. */
export function LightDial() {
  const document = useDocument((state) => state.document);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  if (!document) return null;
  const lights = document.lights ?? [];
  const drag = (light: Light) => (event: PointerEvent) => {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId);
    if (event.buttons !== 1) return;
    const dial = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!dial) return;
    const dx = event.clientX - dial.left - dial.width / 2;
    const dy = event.clientY - dial.top - dial.height / 2;
    const degrees = (Math.atan2(dx, -dy) * 180) / Math.PI;
    const held = event.altKey ? Math.round(degrees) : Math.round(degrees / 15) * 15;
    turnLight(light.id, theme, (held + 360) % 360);
  };
  return (
    <section aria-label="Light" className={classes.corner}>
      {lights.length > 0 && (
        <div className={classes.dial}>
          {lights.map((light) => (
            <span
              key={light.id}
              className={classes.hand}
              style={{ rotate: `${bearingIn(light, theme)}deg` }}
              title={`${light.name}: drag to turn; with Alt by single degrees`}
              onPointerDown={drag(light)}
              onPointerMove={drag(light)}
              onPointerUp={rest}
            />
          ))}
        </div>
      )}
      {lights.map((light) => (
        <Popover key={light.id} position="left-start" withArrow width={300} trapFocus onClose={rest}>
          <Popover.Target>
            <UnstyledButton className={classes.name}>
              {light.name} {bearingIn(light, theme)}°
              <Text span className={classes.count}>
                {usesOf(document, 'follows', light.id)} follow
              </Text>
            </UnstyledButton>
          </Popover.Target>
          <Popover.Dropdown className={classes.panel}>
            <LightValues light={light} theme={theme} document={document} />
          </Popover.Dropdown>
        </Popover>
      ))}
      <UnstyledButton className={classes.name} onClick={addLight}>
        {lights.length === 0 ? 'Add a light' : 'One more light'}
      </UnstyledButton>
    </section>
  );
}

function LightValues({ light, theme, document }: { light: Light; theme: string; document: Project }) {
  const followers = followersOf(document, light.id);
  const used = usesOf(document, 'follows', light.id);
  return (
    <>
      <TextInput
        size="xs"
        label="Name of the light"
        value={light.name}
        onChange={(event) => {
          const name = event.currentTarget.value;
          editLight(light.id, (mine) => {
            mine.name = name;
          });
        }}
        onBlur={rest}
      />
      <NumberField
        label="Bearing"
        unit="°"
        value={bearingIn(light, theme)}
        min={-36000}
        max={36000}
        slider={[0, 360]}
        onChange={(bearing) => turnLight(light.id, theme, bearing)}
        onRest={rest}
      />
      <NumberField
        label="Strength"
        unit="%"
        value={light.strength * 100}
        min={0}
        max={10000}
        slider={[0, 200]}
        onChange={(percent) =>
          editLight(light.id, (mine) => {
            mine.strength = percent / 100;
          })
        }
        onRest={rest}
      />
      <ColourField
        label={`Colour of ${light.name}`}
        value={light.colour}
        own={false}
        literal
        onChange={(colour, gesture) =>
          editLight(
            light.id,
            (mine) => {
              if (typeof colour === 'string') mine.colour = colour;
            },
            gesture,
          )
        }
      />
      <Text size="xs" fw={600}>
        {followers.length === 0 ? 'Nothing follows it yet' : 'Follow it'}
      </Text>
      <ul className={classes.followers}>
        {followers.map(({ key, says, open }) => (
          <li key={key}>
            <UnstyledButton className={classes.follower} onClick={open}>
              {says}
            </UnstyledButton>
          </li>
        ))}
      </ul>
      <Button
        size="compact-xs"
        variant="default"
        disabled={used > 0}
        title={used > 0 ? 'Something follows it' : undefined}
        onClick={() => removeLight(light.id)}
      >
        Remove this light
      </Button>
    </>
  );
}

/** What follows a light, each one click away: coats of finishes by a piece that wears them, others by their piece. */
function followersOf(document: Project, light: string) {
  const found: { key: string; says: string; open: () => void }[] = [];
  const told = new Set<string>();
  const needle = `"follows":${JSON.stringify(light)}`;
  for (const scene of document.scenes) {
    for (const piece of scene.pieces) {
      for (const coat of coatsOf(document, piece)) {
        const where = 'finish' in piece.wear ? piece.wear.finish : piece.id;
        const key = `${where} ${coat.id}`;
        if (told.has(key) || !JSON.stringify(coat).includes(needle)) continue;
        told.add(key);
        const finish = document.finishes?.find((other) => other.id === where);
        const open = () => {
          chooseScene(scene.id);
          choosePiece(piece.id);
          openCoat(coat.id);
        };
        found.push({ key, says: `${finish?.name ?? piece.name}: ${coat.name}`, open });
      }
      if (JSON.stringify(piece.fill).includes(needle)) {
        const open = () => {
          chooseScene(scene.id);
          choosePiece(piece.id);
        };
        found.push({ key: `fill ${piece.id}`, says: `${piece.name}: its fill`, open });
      }
    }
  }
  return found;
}
