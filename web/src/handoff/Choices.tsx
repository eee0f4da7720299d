import { NativeSelect } from '@mantine/core';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { options } from '../parts/options';

type Wanted = Schemas['SheetOptions'];

/** What is written where nobody chose anything. */
export const asUsual: Wanted = {
  finish: null,
  theme: null,
  numbers: 'fewest',
  style: 'living',
  forms: 'worn',
  pieces: 'depth',
  token_form: 'objects',
  modes: false,
  backdrops: 'left_out',
};

const numbers: Record<Schemas['Numbers'], string> = {
  fewest: words.handOff.fewestNumbers,
  exact: words.handOff.exactNumbers,
  two_decimals: words.handOff.twoDecimals,
  whole: words.handOff.wholeNumbers,
};

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
      {code && (
        <Choice
          label={handOff.livingOrFlat}
          title={handOff.aboutStyle}
          value={wanted.style}
          data={options(handOff.styles)}
          onChange={(style) => onChange({ style })}
        />
      )}
      {code && (
        <Choice
          label={handOff.formsWritten}
          value={wanted.forms}
          data={options(handOff.forms)}
          onChange={(forms) => onChange({ forms })}
        />
      )}
      {format === 'css' && wanted.finish === null && (
        <Choice
          label={handOff.piecesWritten}
          value={wanted.pieces}
          data={options(handOff.pieces)}
          onChange={(pieces) => onChange({ pieces })}
        />
      )}
      {format === 'tokens' && (
        <Choice
          label={handOff.tokenForm}
          value={wanted.token_form}
          data={options(handOff.tokenForms)}
          onChange={(token_form) => onChange({ token_form })}
        />
      )}
      {format === 'svg' && (
        <Choice
          label={handOff.backdropsInSvg}
          value={wanted.backdrops}
          data={options(handOff.backdrops)}
          onChange={(backdrops) => onChange({ backdrops })}
        />
      )}
      <Choice
        label={handOff.numbers}
        value={wanted.numbers}
        data={options(numbers)}
        onChange={(written) => onChange({ numbers: written })}
      />
    </>
  );
}

function Choice<V extends string>({
  label,
  title,
  value,
  data,
  onChange,
}: {
  label: string;
  title?: string;
  value: V;
  data: { value: V; label: string }[];
  onChange: (value: V) => void;
}) {
  return (
    <NativeSelect
      size="xs"
      aria-label={label}
      title={title}
      value={value}
      data={data}
      onChange={(event) => onChange(event.currentTarget.value as V)}
    />
  );
}
