import { Checkbox, NativeSelect, Stack } from '@mantine/core';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { options } from '../parts/options';
import { Panel } from '../parts/Panel';
import { Quiet } from '../parts/Quiet';
import { asUsual } from '../session/sheetOptions';
import { edit, useDocument } from '../session/store';
import { CssName } from './CssName';

type Wanted = Schemas['SheetOptions'];

const numbers: Record<Schemas['Numbers'], string> = {
  fewest: words.handOff.fewestNumbers,
  exact: words.handOff.exactNumbers,
  two_decimals: words.handOff.twoDecimals,
  whole: words.handOff.wholeNumbers,
};

/** In place of pieces: none of them. */
const LIBRARY = 'library';

/** In place of a theme: all of them. */
const MODES = '\n';

/** Of which part of the project, and how, a format is written: what there is to choose for it. */
export function Choices({
  project,
  format,
  scene,
  wanted,
  onScene,
  onChange,
}: {
  project: Schemas['Project'];
  format: Schemas['Format'];
  scene: string;
  wanted: Wanted;
  onScene: (scene: string) => void;
  onChange: (change: Partial<Wanted>) => void;
}) {
  if (format === 'json') return null;
  const { handOff } = words;
  const code = format === 'css' || format === 'scss' || format === 'theme';
  const finishes = project.finishes ?? [];
  return (
    <>
      <Choice
        label={handOff.partOfTheProject}
        value={wanted.finish ?? ''}
        data={[
          { value: '', label: format === 'svg' ? handOff.aScene : handOff.everything },
          ...finishes.map((one) => ({ value: one.id, label: handOff.finish(one.name) })),
        ]}
        onChange={(finish) => onChange({ finish: finish || null })}
      />
      {format === 'svg' && wanted.finish === null && (
        <Choice
          label={handOff.sceneShown}
          value={scene}
          data={project.scenes.map((one) => ({ value: one.id, label: one.name }))}
          onChange={onScene}
        />
      )}
      <Choice
        label={format === 'tokens' ? handOff.themesOfTokens : handOff.themeShown}
        value={format === 'tokens' && wanted.modes ? MODES : (wanted.theme ?? '')}
        data={[
          { value: '', label: code ? handOff.everyTheme : handOff.firstTheme },
          ...project.themes.map((one) => ({ value: one.id, label: one.name })),
          ...(format === 'tokens' ? [{ value: MODES, label: handOff.allThemes }] : []),
        ]}
        onChange={(theme) =>
          onChange(theme === MODES ? { modes: true } : { theme: theme || null, modes: false })
        }
      />
      {code && <Prefix />}
      <Rare format={format} wanted={wanted} onChange={onChange} />
    </>
  );
}

interface RareProps {
  format: Schemas['Format'];
  wanted: Wanted;
  onChange: (change: Partial<Wanted>) => void;
}

/** What most people leave as it is; how much of it was changed stands beside. */
function Rare({ format, wanted, onChange }: RareProps) {
  const { handOff } = words;
  const code = format === 'css' || format === 'scss' || format === 'theme';
  const kinds = [
    'style',
    'forms',
    'scenes',
    'pieces',
    'token_form',
    'backdrops',
    'numbers',
    'layer',
    'register_lights',
    'light_dark',
    'older_colours',
    'module',
  ] as const;
  const changed = kinds.filter((kind) => wanted[kind] !== asUsual[kind]).length;
  return (
    <Panel
      position="bottom-start"
      width={300}
      target={(toggle) => (
        <Quiet opens onClick={toggle}>
          {handOff.options(changed)}
        </Quiet>
      )}
    >
      <Stack gap={10}>
        {code && (
          <Choice
            labelled
            label={handOff.livingOrFlat}
            title={handOff.aboutStyle}
            value={wanted.style}
            data={options(handOff.styles)}
            onChange={(style) => onChange({ style })}
          />
        )}
        {code && (
          <Choice
            labelled
            label={handOff.formsWritten}
            value={wanted.forms}
            data={options(handOff.forms)}
            onChange={(forms) => onChange({ forms })}
          />
        )}
        {format === 'css' && wanted.finish === null && (
          <Choice
            labelled
            label={handOff.piecesWritten}
            value={wanted.scenes ? wanted.pieces : LIBRARY}
            data={options(handOff.pieces)}
            onChange={(pieces) => onChange(pieces === LIBRARY ? { scenes: false } : { scenes: true, pieces })}
          />
        )}
        {format === 'css' && (
          <CssName
            label={handOff.layer}
            description={handOff.aboutLayer}
            styles={{ description: { fontSize: 12 } }}
            value={wanted.layer ?? ''}
            onTake={(layer) => onChange({ layer: layer || null })}
          />
        )}
        {code && wanted.style === 'living' && (
          <Ticked
            label={handOff.registered}
            about={handOff.aboutRegistered}
            on={wanted.register_lights}
            onChange={(register_lights) => onChange({ register_lights })}
          />
        )}
        {code && (
          <Ticked
            label={handOff.lightDark}
            about={handOff.aboutLightDark}
            on={wanted.light_dark}
            onChange={(light_dark) => onChange({ light_dark })}
          />
        )}
        {format === 'css' && wanted.style === 'living' && (
          <Ticked
            label={handOff.olderColours}
            about={handOff.aboutOlderColours}
            on={wanted.older_colours}
            onChange={(older_colours) => onChange({ older_colours })}
          />
        )}
        {format === 'css' && (
          <Ticked
            label={handOff.module}
            about={handOff.aboutModule}
            on={wanted.module}
            onChange={(module) => onChange({ module })}
          />
        )}
        {format === 'css' && <Fallbacks />}
        {format === 'tokens' && (
          <Choice
            labelled
            label={handOff.tokenForm}
            value={wanted.token_form}
            data={options(handOff.tokenForms)}
            onChange={(token_form) => onChange({ token_form })}
          />
        )}
        {format === 'svg' && (
          <Choice
            labelled
            label={handOff.backdropsInSvg}
            value={wanted.backdrops}
            data={options(handOff.backdrops)}
            onChange={(backdrops) => onChange({ backdrops })}
          />
        )}
        <Choice
          labelled
          label={handOff.numbers}
          value={wanted.numbers}
          data={options(numbers)}
          onChange={(written) => onChange({ numbers: written })}
        />
      </Stack>
    </Panel>
  );
}

/** What every class and custom property of the project's CSS begins with: of the project itself, for every sheet of it. */
function Prefix() {
  const prefix = useDocument((state) => state.document?.prefix ?? '');
  const { handOff } = words;
  return (
    <CssName
      w={112}
      leftSection={handOff.prefix}
      leftSectionWidth={48}
      leftSectionPointerEvents="none"
      aria-label={handOff.prefix}
      title={handOff.aboutPrefix}
      value={prefix}
      onTake={(to) =>
        edit((project) => {
          project.prefix = to;
        })
      }
    />
  );
}

/** What is drawn where a browser or its reader takes something away: the project's own, for every sheet of it. */
function Fallbacks() {
  const on = useDocument((state) => state.document?.fallbacks ?? false);
  return (
    <Ticked
      label={words.handOff.fallbacks}
      about={words.handOff.aboutFallbacks}
      on={on}
      onChange={(to) =>
        edit((draft) => {
          draft.fallbacks = to;
        })
      }
    />
  );
}

function Ticked({
  label,
  about,
  on,
  onChange,
}: {
  label: string;
  about: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <Checkbox
      size="xs"
      styles={{ description: { fontSize: 12 } }}
      label={label}
      description={about}
      checked={on}
      onChange={(event) => onChange(event.currentTarget.checked)}
    />
  );
}

function Choice<V extends string>({
  label,
  title,
  labelled,
  value,
  data,
  onChange,
}: {
  label: string;
  title?: string;
  /** What it is about is written above it. */
  labelled?: boolean;
  value: V;
  data: { value: V; label: string }[];
  onChange: (value: V) => void;
}) {
  return (
    <NativeSelect
      size="xs"
      label={labelled && label}
      aria-label={label}
      title={title}
      value={value}
      data={data}
      onChange={(event) => onChange(event.currentTarget.value as V)}
    />
  );
}
