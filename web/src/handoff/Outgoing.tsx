import { Button, Group, NativeSelect, SegmentedControl, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useTold } from '../core/answers';
import { answer, api, type Schemas } from '../core/client';
import { words } from '../messages';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { options } from '../parts/options';
import view from '../parts/view.module.css';
import { thousands } from '../parts/when';
import { useDocument } from '../session/store';
import { Closeness } from './Closeness';
import { save } from './download';
import classes from './HandOff.module.css';
import { PictureOut } from './PictureOut';

type Format = Schemas['Format'];
type Numbers = Schemas['Numbers'];

const formats: { value: Format; label: string; ending: string }[] = [
  { value: 'css', label: words.common.css, ending: 'css' },
  { value: 'scss', label: words.handOff.scss, ending: 'scss' },
  { value: 'tokens', label: words.handOff.tokens, ending: 'tokens.json' },
  { value: 'svg', label: words.handOff.svg, ending: 'svg' },
  { value: 'json', label: words.handOff.project, ending: 'zolvet.json' },
];

const numbers = [
  { value: 'fewest', label: words.handOff.fewestNumbers },
  { value: 'exact', label: words.handOff.exactNumbers },
  { value: 'two_decimals', label: words.handOff.twoDecimals },
  { value: 'whole', label: words.handOff.wholeNumbers },
];

const languages = { css: 'css', scss: 'scss', tokens: 'json', svg: 'xml', json: 'json' } as const;

/** Not written as text. */
const PICTURE = 'picture';

/** A project, or one finish of it, in a format to copy or save; or everything at once. */
export function Outgoing() {
  const project = useDocument((state) => state.document);
  const [format, setFormat] = useState<Format>('css');
  const [pictured, setPictured] = useState(false);
  const [finish, setFinish] = useState('');
  const [theme, setTheme] = useState('');
  const [scene, setScene] = useState('');
  const [written, setWritten] = useState<Numbers>('fewest');
  const [style, setStyle] = useState<Schemas['Style']>('living');
  const asked = useMemo(
    () =>
      project && {
        project,
        format,
        finish: finish || null,
        theme: theme || null,
        scene: scene || null,
        numbers: written,
        style,
      },
    [project, format, finish, theme, scene, written, style],
  );
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    answer(await api.POST('/api/export', { body, signal })).text;
  const text = useTold(asked, ask, { pause: 0, cancels: true });
  const bundle = useMutation({
    mutationFn: async () => {
      if (!project) return;
      const asked = await api.POST('/api/bundle', {
        body: { project, numbers: written, style },
        parseAs: 'blob',
      });
      save(`${project.name}.zip`, answer(asked as { data?: Blob; error?: unknown; response: Response }));
    },
  });
  if (!project) return null;
  // The ending is that of the text that is there, and a text is saved once it is what was asked for.
  const ending = formats.find((one) => one.value === text.of?.format)?.ending ?? 'txt';
  const shown = text.answer ?? '';
  return (
    <section aria-label={words.handOff.exportIt} className={classes.out}>
      <h2 className={view.heading}>{words.handOff.exportIt}</h2>
      <Group gap={8}>
        <SegmentedControl
          size="xs"
          aria-label={words.handOff.format}
          value={pictured ? PICTURE : format}
          data={[
            ...formats.map(({ value, label }) => ({ value: value as string, label })),
            { value: PICTURE, label: words.handOff.picture },
          ]}
          onChange={(value) => {
            setPictured(value === PICTURE);
            if (value !== PICTURE) setFormat(value as Format);
          }}
        />
        {!pictured && format !== 'json' && (
          <NativeSelect
            size="xs"
            aria-label={words.handOff.partOfTheProject}
            value={finish}
            data={[
              { value: '', label: format === 'svg' ? words.handOff.aScene : words.handOff.everything },
              ...(project.finishes ?? []).map((one) => ({
                value: one.id,
                label: words.handOff.finish(one.name),
              })),
            ]}
            onChange={(event) => setFinish(event.currentTarget.value)}
          />
        )}
        {!pictured && format === 'svg' && finish === '' && (
          <NativeSelect
            size="xs"
            aria-label={words.handOff.sceneShown}
            value={scene}
            data={project.scenes.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(event) => setScene(event.currentTarget.value)}
          />
        )}
        {!pictured && format !== 'json' && (
          <NativeSelect
            size="xs"
            aria-label={words.handOff.themeShown}
            value={theme}
            data={[
              {
                value: '',
                label:
                  format === 'css' || format === 'scss' ? words.handOff.everyTheme : words.handOff.firstTheme,
              },
              ...project.themes.map((one) => ({ value: one.id, label: one.name })),
            ]}
            onChange={(event) => setTheme(event.currentTarget.value)}
          />
        )}
        {!pictured && format === 'css' && (
          <NativeSelect
            size="xs"
            aria-label={words.handOff.livingOrFlat}
            title={words.handOff.aboutStyle}
            value={style}
            data={options(words.handOff.styles)}
            onChange={(event) => setStyle(event.currentTarget.value as Schemas['Style'])}
          />
        )}
        {!pictured && format !== 'json' && (
          <NativeSelect
            size="xs"
            aria-label={words.handOff.numbers}
            value={written}
            data={numbers}
            onChange={(event) => setWritten(event.currentTarget.value as Numbers)}
          />
        )}
      </Group>
      {pictured ? (
        <PictureOut project={project} />
      ) : (
        <>
          <Group gap={8} mt={8}>
            <CopyButton text={shown} what={words.handOff.all} fresh={text.fresh} />
            <Button
              size="compact-sm"
              variant="default"
              disabled={!text.fresh}
              onClick={() => save(`${project.name}.${ending}`, new Blob([shown]))}
            >
              {words.handOff.saveAsAFile}
            </Button>
            <Button size="compact-sm" loading={bundle.isPending} onClick={() => bundle.mutate()}>
              {words.handOff.zip}
            </Button>
            <Text size="xs" c="dimmed">
              {words.handOff.charactersWithCount(thousands(shown.length))}
            </Text>
          </Group>
          {(text.failure ?? bundle.error) && (
            <Text size="sm" c="red" role="alert" mt={8}>
              {text.failure ?? bundle.error?.message}
            </Text>
          )}
          <Code className={classes.code} text={shown} language={languages[text.of?.format ?? 'css']} />
        </>
      )}
      <Closeness numbers={written} />
    </section>
  );
}
