import { Button, Group, SegmentedControl, useMantineColorScheme } from '@mantine/core';
import { IconMoon, IconSun } from '@tabler/icons-react';
import { memo } from 'react';
import { HoldButton } from '../parts/HoldButton';
import { Home } from '../parts/Home';
import { Views } from '../parts/Views';
import { editScene } from '../session/scenes';
import { sceneOf, useDocument } from '../session/store';
import classes from './Header.module.css';
import { History } from './History';
import { SaveNote } from './SaveNote';
import { SceneMenu } from './SceneMenu';
import { SharedColours } from './SharedColours';

interface Props {
  onBefore: (held: boolean) => void;
  onSheet: () => void;
}

export const Header = memo(function Header({ onBefore, onSheet }: Props) {
  const themes = useDocument((state) => state.document?.themes);
  const theme = useDocument((state) => sceneOf(state.document, state.scene)?.theme);
  const id = useDocument((state) => state.id);
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  if (!themes) return null;
  const setTheme = (chosen: string) =>
    editScene((scene) => {
      scene.theme = chosen;
    });
  return (
    <header className={classes.header}>
      <Group gap={6} wrap="nowrap" className={classes.part}>
        <Home />
        <SceneMenu />
        {themes.length > 1 && (
          <SegmentedControl
            size="xs"
            aria-label="Theme"
            value={theme ?? ''}
            onChange={setTheme}
            data={themes.map((other) => ({ value: other.id, label: other.name }))}
          />
        )}
        <SharedColours />
      </Group>
      <Group gap={6} wrap="nowrap" className={classes.part}>
        <History />
        <HoldButton size="compact-sm" onHold={onBefore}>
          Hold for before
        </HoldButton>
        <SaveNote />
      </Group>
      <Group gap={6} wrap="nowrap" className={classes.part}>
        <Button variant="subtle" color="gray" size="compact-sm" c="inherit" px={6} onClick={onSheet}>
          Keys
        </Button>
        <Button
          variant="subtle"
          color="gray"
          c="inherit"
          size="compact-sm"
          aria-label={colorScheme === 'dark' ? 'Light interface' : 'Dark interface'}
          onClick={() => setColorScheme(colorScheme === 'dark' ? 'light' : 'dark')}
        >
          {colorScheme === 'dark' ? <IconSun size={16} /> : <IconMoon size={16} />}
        </Button>
        <Views id={id} open="Workbench" />
      </Group>
    </header>
  );
});
