import { Button, Group, SegmentedControl, Text } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useAnswered } from '../core/answers';
import { answer, api, type Schemas } from '../core/client';
import { askCore } from '../core/core';
import { words } from '../messages';
import { save } from '../page/download';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import view from '../parts/view.module.css';
import { thousands } from '../parts/when';
import { asUsual } from '../session/sheetOptions';
import { useDocument } from '../session/store';
import { Choices } from './Choices';
import { Closeness } from './Closeness';
import { FewerShadows } from './FewerShadows';
import classes from './HandOff.module.css';
import { drawingsOf, OwnFileOut } from './OwnFileOut';
import { PictureOut } from './PictureOut';

type Format = Schemas['Format'];

const formats: { value: Format; label: string; ending: string }[] = [
  { value: 'css', label: words.common.css, ending: 'css' },
  { value: 'scss', label: words.handOff.scss, ending: 'scss' },
  { value: 'theme', label: words.handOff.theme, ending: 'theme.css' },
  { value: 'tokens', label: words.handOff.tokens, ending: 'tokens.json' },
  { value: 'svg', label: words.handOff.svg, ending: 'svg' },
  { value: 'json', label: words.handOff.project, ending: 'zolvet.json' },
];

const languages = {
  css: 'css',
  scss: 'scss',
  theme: 'css',
  tokens: 'json',
  svg: 'xml',
  json: 'json',
} as const;

/** A picture, and the file of a drawing: what is not written by a format. */
const PICTURE = 'picture';
const OWN = 'own';

/** A project, or one finish of it, in a format to copy or save; or everything at once. */
export function Outgoing() {
  const project = useDocument((state) => state.document);
  const [format, setFormat] = useState<Format>('css');
  const [special, setSpecial] = useState<typeof PICTURE | typeof OWN | null>(null);
  const [scene, setScene] = useState('');
  const [wanted, setWanted] = useState(asUsual);
  const asked = useMemo(
    () => project && { project, format, scene: scene || null, ...wanted },
    [project, format, scene, wanted],
  );
  const ask = async (body: NonNullable<typeof asked>, signal: AbortSignal) =>
    await askCore('/api/export', body, signal);
  const text = useAnswered(asked, ask, { pause: 0, cancels: true });
  const bundle = useMutation({
    mutationFn: async () => {
      if (!project) return;
      const asked = await api.POST('/api/bundle', {
        body: { project, ...wanted, finish: null, theme: null },
        parseAs: 'blob',
      });
      save(`${project.name}.zip`, answer(asked as { data?: Blob; error?: unknown; response: Response }));
    },
  });
  if (!project) return null;
  // The ending is that of the text that is there, and a text is saved once it is what was asked for.
  const ending = formats.find((one) => one.value === text.of?.format)?.ending ?? 'txt';
  const shown = text.answer?.text ?? '';
  return (
    <section aria-label={words.handOff.exportIt} className={classes.out}>
      <h2 className={view.heading}>{words.handOff.exportIt}</h2>
      <Group gap={8}>
        <SegmentedControl
          size="xs"
          aria-label={words.handOff.format}
          value={special ?? format}
          data={[
            ...formats.map(({ value, label }) => ({ value: value as string, label })),
            ...(drawingsOf(project).length > 0 ? [{ value: OWN, label: words.handOff.ownFile }] : []),
            { value: PICTURE, label: words.handOff.picture },
          ]}
          onChange={(value) => {
            const isSpecial = value === PICTURE || value === OWN;
            setSpecial(isSpecial ? value : null);
            if (!isSpecial) setFormat(value as Format);
          }}
        />
        {!special && (
          <Choices
            project={project}
            format={format}
            scene={scene}
            wanted={wanted}
            onScene={setScene}
            onChange={(change) => setWanted({ ...wanted, ...change })}
          />
        )}
      </Group>
      {special === PICTURE && <PictureOut project={project} />}
      {special === OWN && <OwnFileOut project={project} />}
      {!special && (
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
          {text.answer && text.answer.notes.length > 0 && (
            <Text size="sm" mt={8} component="div">
              {text.of?.format === 'svg' ? words.handOff.svgDiffers : words.handOff.cssLeavesOut}
              <ul className={classes.notes}>
                {text.answer.notes.map((note) => (
                  <li key={note}>{note}</li>
                ))}
              </ul>
            </Text>
          )}
          <Code className={classes.code} text={shown} language={languages[text.of?.format ?? 'css']} />
        </>
      )}
      <FewerShadows />
      <Closeness numbers={wanted.numbers} />
    </section>
  );
}
