import { Button, FileButton, Group, SegmentedControl, Text, Textarea } from '@mantine/core';
import { useWindowEvent } from '@mantine/hooks';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Schemas } from '../core/client';
import { words } from '../messages';
import view from '../parts/view.module.css';
import { thousands } from '../parts/when';
import { bringIn } from '../session/finishes';
import { useDocument } from '../session/store';
import classes from './HandOff.module.css';

type Format = Schemas['IncomingFormat'];

const formats = [
  { value: 'css', label: words.handOff.styleSheet },
  { value: 'tokens', label: words.handOff.tokens },
  { value: 'svg', label: words.handOff.svgFilters },
  { value: 'json', label: words.handOff.project },
];

const examples: Record<Format, string> = {
  css: '.card { box-shadow: 0 6px 10px #0006 }',
  tokens: '{ … }',
  svg: '<svg><filter id="raised"> … </filter></svg>',
  json: '{ … }',
};

/** A style sheet, token file, SVG file or project: first what it would bring, then all of it or nothing. */
export function Incoming() {
  const [format, setFormat] = useState<Format>('css');
  const [text, setText] = useState('');
  const read = useMutation({
    mutationFn: async () => {
      const { document } = useDocument.getState();
      if (!document) return null;
      return answer(
        await api.POST('/api/import', { body: { project: { ...document, scenes: [] }, format, text } }),
      );
    },
  });
  const change = (next: string) => {
    setText(next);
    read.reset();
  };
  const take = async (file: File | null) => {
    if (!file) return;
    if (file.name.endsWith('.css')) setFormat('css');
    else if (file.name.endsWith('.svg')) setFormat('svg');
    else if (file.name.endsWith('.zolvet.json')) setFormat('json');
    else if (file.name.endsWith('.json')) setFormat('tokens');
    change(await file.text());
  };
  useWindowEvent('dragover', (event) => event.preventDefault());
  useWindowEvent('drop', (event) => {
    event.preventDefault();
    void take(event.dataTransfer?.files[0] ?? null);
  });
  const found = read.data;
  const bring = () => {
    if (!found) return;
    bringIn(found);
    change('');
  };
  return (
    <section aria-label={words.handOff.importIt} className={view.panel}>
      <h2 className={view.heading}>{words.handOff.importIt}</h2>
      <Group gap={8} mb={8}>
        <SegmentedControl
          size="xs"
          aria-label={words.handOff.kindOfFile}
          value={format}
          data={formats}
          onChange={(value) => {
            setFormat(value as Format);
            read.reset();
          }}
        />
        <FileButton onChange={take} accept=".css,.json,.svg">
          {(props) => (
            <Button size="compact-sm" variant="default" {...props}>
              {words.handOff.openAFile}
            </Button>
          )}
        </FileButton>
      </Group>
      <Textarea
        size="xs"
        aria-label={words.handOff.textToImport}
        placeholder={examples[format]}
        minRows={4}
        maxRows={10}
        autosize
        value={text}
        onChange={(event) => change(event.currentTarget.value)}
        classNames={{ input: classes.typed }}
      />
      <Group gap={8} mt={8}>
        <Button
          size="compact-sm"
          variant="default"
          disabled={!text.trim()}
          loading={read.isPending}
          onClick={() => read.mutate()}
        >
          {words.handOff.previewImport}
        </Button>
        {read.isPending && (
          <Text size="sm" aria-live="polite">
            {words.handOff.reading}
            {thousands(text.length)}
            {words.handOff.characters}
          </Text>
        )}
      </Group>
      {read.error && (
        <Text size="sm" c="red" role="alert" mt={8}>
          {words.handOff.nothingWasChanged(read.error.message)}
        </Text>
      )}
      {found && <Found found={found} onBring={bring} />}
    </section>
  );
}

/** How many of a long list are written out. */
const listed = 60;

function Found({ found, onBring }: { found: Schemas['Incoming']; onBring: () => void }) {
  const { finishes, swatches, diagnostics } = found;
  const nothing = finishes.length + swatches.length === 0;
  return (
    <div role="status" className={classes.found}>
      <Text size="sm" fw={600}>
        {nothing ? words.handOff.nothingNew : words.handOff.brings(finishes.length, swatches.length)}
      </Text>
      <ul className={classes.list}>
        {finishes.slice(0, listed).map((finish) => (
          <li key={finish.id}>
            {words.handOff.finishWith(
              finish.name,
              finish.coats.map((coat) => words.common.kinds[coat.kind]).join(', '),
            )}
          </li>
        ))}
        {finishes.length > listed && <li>{words.handOff.andMore(finishes.length - listed)}</li>}
      </ul>
      {diagnostics.length > 0 && (
        <>
          <Text size="sm">{words.handOff.approximated(diagnostics.length)}</Text>
          <ul className={classes.list}>
            {diagnostics.slice(0, listed).map((diagnostic) => (
              <li key={`${diagnostic.place}${diagnostic.message}`}>
                {diagnostic.place} {diagnostic.message}
              </li>
            ))}
            {diagnostics.length > listed && <li>{words.handOff.andMore(diagnostics.length - listed)}</li>}
          </ul>
        </>
      )}
      <Button size="compact-sm" disabled={nothing} onClick={onBring}>
        {words.handOff.importNow}
      </Button>
    </div>
  );
}
