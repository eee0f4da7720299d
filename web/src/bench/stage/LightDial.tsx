import { Button, Text, TextInput, UnstyledButton, VisuallyHidden } from '@mantine/core';
import { memo, type PointerEvent, useMemo } from 'react';
import type { Project, Schemas } from '../../core/client';
import { percents, ranges } from '../../core/constants';
import { askAtOnce } from '../../core/core';
import { words } from '../../messages';
import { ColourField } from '../../parts/ColourField';
import { drag } from '../../parts/drag';
import { NumberField } from '../../parts/NumberField';
import { Panel } from '../../parts/Panel';
import { useName } from '../../parts/useName';
import { choosePiece, chooseScene, chosenPiece, openCoat } from '../../session/choice';
import { coatsIn, sceneOf, stackOf } from '../../session/lookup';
import { usesIn, usesOf } from '../../session/references';
import { addLight, bearingIn, editLight, removeLight, turnLight } from '../../session/shared';
import type { DocumentState } from '../../session/state';
import { commit, useDocument } from '../../session/store';
import { withParts } from '../../session/tree';
import classes from './LightDial.module.css';
import { LightRig } from './LightRig';

type Light = Schemas['Light'];

/** Every shared light on a dial; turning one moves all coats that follow it. */
export const LightDial = memo(function LightDial() {
  const lights = useDocument((state) => state.document?.lights) ?? none;
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  const followed = useDocument(followedLight);
  const active = lights.find((light) => light.id === followed) ?? lights[0];
  const turn = (light: Light) => (event: PointerEvent) => {
    const dial = event.currentTarget.parentElement?.getBoundingClientRect();
    if (!dial) return;
    const middle = { x: dial.left + dial.width / 2, y: dial.top + dial.height / 2 };
    drag(event, 1, (_dx, _dy, now, ask) => {
      const question = {
        x: now.clientX - middle.x,
        y: now.clientY - middle.y,
        lights: [],
        precision: now.altKey ? ('tenths' as const) : ('steps' as const),
      };
      ask(askAtOnce('/api/drag/bearing', question), (bearing) => turnLight(light.id, theme, bearing));
    });
  };
  return (
    <section aria-label={words.common.light} className={classes.lights}>
      {lights.length > 0 && (
        <div className={classes.dial}>
          {active && <span className={classes.peg} style={{ rotate: `${bearingIn(active, theme)}deg` }} />}
          {lights.map((light) => (
            <span
              key={light.id}
              className={classes.hand}
              data-on={light === active || undefined}
              style={{ rotate: `${bearingIn(light, theme)}deg` }}
              title={words.stage.turnLight(light.name)}
              onPointerDown={turn(light)}
            />
          ))}
        </div>
      )}
      {lights.map((light) => (
        <LightName key={light.id} light={light} theme={theme} on={light.id === followed} />
      ))}
      <button type="button" className={classes.add} onClick={addLight}>
        {words.stage.addLight}
      </button>
    </section>
  );
});

const none: Light[] = [];

/** The light the open coat follows. */
function followedLight(now: DocumentState): string | null {
  const stack = stackOf(now, chosenPiece(now));
  const coat = stack?.find((other) => other.id === now.coat);
  if (!coat) return null;
  if ('offset' in coat) return 'follows' in coat.offset ? coat.offset.follows : null;
  return 'follows' in coat ? (coat.follows ?? null) : null;
}

interface NameProps {
  light: Light;
  theme: string;
  /** Whether the open coat follows it. */
  on: boolean;
}

/** A light by its name and bearing; it opens to its values. */
const LightName = memo(function LightName({ light, theme, on }: NameProps) {
  const count = useDocument(({ document }) => (document ? usesOf(document, 'follows', light.id) : 0));
  const counted = words.stage.coatsFollow(count);
  return (
    <Panel
      position="left-start"
      width={300}
      className={classes.panel}
      target={(toggle) => (
        <button
          type="button"
          className={classes.name}
          data-on={on || undefined}
          title={`${light.name}: ${counted}`}
          onClick={toggle}
        >
          <span dir="auto" className={classes.word}>
            {light.name}
          </span>
          <span className={classes.angle}>{words.common.degrees(bearingIn(light, theme))}</span>
          <VisuallyHidden>{counted}</VisuallyHidden>
        </button>
      )}
    >
      <LightValues light={light} theme={theme} />
    </Panel>
  );
});

function LightValues({ light, theme }: { light: Light; theme: string }) {
  const used = useDocument(({ document }) => (document ? usesOf(document, 'follows', light.id) : 0));
  const naming = useName(
    light.name,
    (name) =>
      editLight(light.id, (mine) => {
        mine.name = name;
      }),
    commit,
  );
  return (
    <>
      <TextInput size="xs" label={words.stage.nameOfTheLight} {...naming} />
      <NumberField
        label={words.stage.bearing}
        unit="°"
        value={bearingIn(light, theme)}
        min={ranges.Degrees[0]}
        max={ranges.Degrees[1]}
        slider={[0, 360]}
        onChange={(bearing) => turnLight(light.id, theme, bearing)}
        onCommit={commit}
      />
      <NumberField
        label={words.stage.strength}
        unit="%"
        value={light.strength * 100}
        min={0}
        max={percents(ranges.Factor)[1]}
        slider={[0, 200]}
        onChange={(percent) =>
          editLight(light.id, (mine) => {
            mine.strength = percent / 100;
          })
        }
        onCommit={commit}
      />
      <ColourField
        label={words.stage.colourOf(light.name)}
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
      <LightRig light={light} />
      <Followers light={light.id} />
      <Button
        size="compact-xs"
        variant="default"
        disabled={used > 0}
        title={used > 0 ? words.stage.somethingFollowsIt : undefined}
        onClick={() => removeLight(light.id)}
      >
        {words.stage.removeThisLight}
      </Button>
    </>
  );
}

const Followers = memo(function Followers({ light }: { light: string }) {
  const scenes = useDocument((state) => state.document?.scenes);
  const finishes = useDocument((state) => state.document?.finishes);
  const followers = useMemo(
    () => followersOf(scenes ?? [], finishes ?? [], light),
    [scenes, finishes, light],
  );
  return (
    <>
      <Text size="xs" fw={600}>
        {followers.length === 0 ? words.stage.noneFollows : words.stage.whatFollows}
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
    </>
  );
});

/** What follows a light, each one click away: coats of finishes by a piece that wears them, others by their piece. */
function followersOf(scenes: Project['scenes'], finishes: NonNullable<Project['finishes']>, light: string) {
  const found: { key: string; says: string; open: () => void }[] = [];
  const told = new Set<string>();
  for (const scene of scenes) {
    for (const piece of withParts(scene.pieces)) {
      const { wear } = piece;
      const finish = 'finish' in wear ? finishes.find((other) => other.id === wear.finish) : undefined;
      for (const coat of 'coats' in wear ? wear.coats : finish ? coatsIn(finish, scene.theme) : []) {
        const where = finish?.id ?? piece.id;
        const key = `${where} ${coat.id}`;
        if (told.has(key) || usesIn(coat, 'follows', light) === 0) continue;
        told.add(key);
        const open = () => {
          chooseScene(scene.id);
          choosePiece(piece.id);
          openCoat(coat.id);
        };
        found.push({ key, says: `${finish?.name ?? piece.name}: ${coat.name}`, open });
      }
      if (piece.fill && usesIn(piece.fill, 'follows', light) > 0) {
        const open = () => {
          chooseScene(scene.id);
          choosePiece(piece.id);
        };
        found.push({ key: `fill ${piece.id}`, says: words.stage.itsFill(piece.name), open });
      }
    }
  }
  return found;
}
