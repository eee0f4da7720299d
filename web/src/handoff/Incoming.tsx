import { Button, FileButton, Group, SegmentedControl, Textarea } from '@mantine/core';
import { useWindowEvent } from '@mantine/hooks';
import { useState } from 'react';
import { words } from '../messages';
import view from '../parts/view.module.css';
import { bring, type Format, useBringing } from '../session/bringing';
import classes from './HandOff.module.css';

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

/** Style sheets, token files, SVG files or projects: opened, dropped or pasted, to be chosen from. */
export function Incoming() {
  const [format, setFormat] = useState<Format>('css');
  const [text, setText] = useState('');
  const open = () =>
    useBringing.setState({ brought: { format, files: [{ name: '', text }] }, waiting: [], failed: '' });
  useWindowEvent('dragover', (event) => event.preventDefault());
  useWindowEvent('drop', (event) => {
    event.preventDefault();
    void bring([...(event.dataTransfer?.files ?? [])]);
  });
  return (
    <section aria-label={words.handOff.importIt} className={view.panel}>
      <h2 className={view.heading}>{words.handOff.importIt}</h2>
      <Group gap={8} mb={8}>
        <SegmentedControl
          size="xs"
          aria-label={words.handOff.kindOfFile}
          value={format}
          data={formats}
          onChange={(value) => setFormat(value as Format)}
        />
        <FileButton
          multiple
          onChange={(files) => void bring(files)}
          accept=".css,.json,.jsonc,.tokens,.svg,.svgz"
        >
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
        onChange={(event) => setText(event.currentTarget.value)}
        classNames={{ input: classes.typed }}
      />
      <Group gap={8} mt={8}>
        <Button size="compact-sm" variant="default" disabled={!text.trim()} onClick={open}>
          {words.handOff.previewImport}
        </Button>
      </Group>
    </section>
  );
}
