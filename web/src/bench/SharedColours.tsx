import { Button, Text } from '@mantine/core';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { ColourField } from '../parts/ColourField';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { useName } from '../parts/useName';
import { sceneOf } from '../session/lookup';
import { usesOf } from '../session/references';
import { addSwatch, editSwatch, removeSwatch } from '../session/shared';
import { commit, useDocument } from '../session/store';
import classes from './SceneLine.module.css';

/** The project's swatches: changing one changes all that use it. */
export function SharedColours() {
  return (
    <Panel
      position="bottom-start"
      width={400}
      className={classes.panel}
      target={(toggle) => (
        <Quiet opens onClick={toggle}>
          {words.bench.swatches}
        </Quiet>
      )}
    >
      <Swatches />
    </Panel>
  );
}

function Swatches() {
  const document = useDocument((state) => state.document);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme ?? '');
  if (!document) return null;
  const swatches = document.swatches ?? [];
  const themed = document.themes.length > 1;
  const name = document.themes.find((other) => other.id === theme)?.name;
  return (
    <>
      {swatches.length === 0 && (
        <Text size="sm" c="dimmed">
          {words.bench.noSwatches}
        </Text>
      )}
      {themed && name && swatches.length > 0 && (
        <Text size="xs" c="dimmed">
          {words.bench.coloursIn(name)}
        </Text>
      )}
      {swatches.map((swatch) => (
        <SwatchRow
          key={swatch.id}
          swatch={swatch}
          theme={theme}
          uses={usesOf(document, 'swatch', swatch.id)}
        />
      ))}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => addSwatch(words.bench.swatch(swatches.length + 1), '#2f7d6b')}
      >
        {words.bench.newSwatch}
      </Button>
    </>
  );
}

function SwatchRow({ swatch, theme, uses }: { swatch: Schemas['Swatch']; theme: string; uses: number }) {
  const values = swatch.values as Record<string, string>;
  const naming = useName(
    swatch.name,
    (name) =>
      editSwatch(swatch.id, (mine) => {
        mine.name = name;
      }),
    commit,
  );
  return (
    <div className={classes.shared}>
      <ColourField
        label={words.bench.colourOf(swatch.name)}
        value={values[theme] ?? '#808080'}
        own={false}
        literal
        onChange={(colour, gesture) =>
          editSwatch(
            swatch.id,
            (mine) => {
              if (typeof colour === 'string') (mine.values as Record<string, string>)[theme] = colour;
            },
            gesture,
          )
        }
      />
      <input aria-label={words.bench.nameOf(swatch.name)} {...naming} />
      <span className={classes.uses}>{words.bench.uses(uses)}</span>
      <Quiet
        fz={12}
        px={4}
        disabled={uses > 0}
        title={uses > 0 ? words.bench.itIsInUse : undefined}
        aria-label={words.bench.remove(swatch.name)}
        onClick={() => removeSwatch(swatch.id)}
      >
        {words.common.remove}
      </Quiet>
    </div>
  );
}
