import { Button, Modal, SegmentedControl, Text, TextInput } from '@mantine/core';
import type { Schemas } from '../core/client';
import { words } from '../messages';
import { useName } from '../parts/useName';
import { commit, useDocument, useScene } from '../session/store';
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
