import { Button, Modal, SegmentedControl, Text, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Schemas } from '../core/client';
import { limits } from '../core/constants';
import { words } from '../messages';
import { isSelector } from '../parts/selector';
import { useName } from '../parts/useName';
import { useScene } from '../session/seen';
import { commit, useDocument } from '../session/store';
import { addTheme, editTheme, removeTheme } from '../session/themes';
import classes from './Themes.module.css';

interface Props {
  opened: boolean;
  onClose: () => void;
}

const schemes = [
  { value: 'light', label: words.bench.lightScheme },
  { value: 'dark', label: words.bench.darkScheme },
];

/** The project's themes: added, renamed, made light or dark, removed. */
export function Themes({ opened, onClose }: Props) {
  const themes = useDocument((state) => state.document?.themes) ?? [];
  const shown = useScene()?.theme ?? '';
  return (
    <Modal
      opened={opened}
      onClose={onClose}
      title={words.bench.themes}
      closeButtonProps={{ 'aria-label': words.common.close }}
    >
      <Text size="sm" c="dimmed" mb="sm">
        {words.bench.aboutThemes}
      </Text>
      <Text size="sm" c="dimmed" mb="sm">
        {words.bench.aboutSelectors}
      </Text>
      <ul className={classes.list}>
        {themes.map((theme) => (
          <Row key={theme.id} theme={theme} only={themes.length === 1} />
        ))}
      </ul>
      <Button size="compact-sm" variant="default" mt="sm" onClick={() => addTheme(shown)}>
        {words.bench.addTheme}
      </Button>
    </Modal>
  );
}

/** The elements of a page that begin the theme. */
function Selectors({ theme }: { theme: Schemas['Theme'] }) {
  const [draft, setDraft] = useState<string | null>(null);
  const lines = (text: string) =>
    text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
  const wrong =
    draft !== null && !(lines(draft).every(isSelector) && lines(draft).length <= limits.themeSelectors);
  return (
    <Textarea
      size="xs"
      autosize
      className={classes.selectors}
      aria-label={words.bench.selectorsOf(theme.name)}
      placeholder={words.bench.selectorsHere}
      spellCheck={false}
      value={draft ?? (theme.selectors ?? []).join('\n')}
      error={wrong && words.bench.noSelector}
      onChange={(event) => setDraft(event.currentTarget.value)}
      onBlur={() => {
        if (draft !== null && !wrong && draft !== (theme.selectors ?? []).join('\n')) {
          editTheme(theme.id, (mine) => {
            mine.selectors = lines(draft);
          });
        }
        setDraft(null);
      }}
    />
  );
}

function Row({ theme, only }: { theme: Schemas['Theme']; only: boolean }) {
  const write = (name: string) =>
    editTheme(
      theme.id,
      (mine) => {
        mine.name = name;
      },
      true,
    );
  const naming = useName(theme.name, write, commit);
  return (
    <li className={classes.row}>
      <TextInput size="xs" aria-label={words.bench.nameOfTheme(theme.name)} {...naming} />
      <SegmentedControl
        size="xs"
        aria-label={words.bench.schemeOf(theme.name)}
        value={theme.scheme}
        data={schemes}
        onChange={(scheme) =>
          editTheme(theme.id, (mine) => {
            mine.scheme = scheme as Schemas['Scheme'];
          })
        }
      />
      <Selectors theme={theme} />
      <Button
        size="compact-sm"
        variant="subtle"
        color="gray"
        c="inherit"
        disabled={only}
        aria-label={words.bench.remove(theme.name)}
        onClick={() => removeTheme(theme.id)}
      >
        {words.common.remove}
      </Button>
    </li>
  );
}
