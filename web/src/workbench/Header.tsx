import { Button, Group, SegmentedControl, useMantineColorScheme } from '@mantine/core';
import { IconMoon, IconSun } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'wouter';
import { edit, sceneOf, useDocument } from '../document/store';
import { HandOff } from '../handoff/HandOff';
import classes from './Header.module.css';
import { History } from './History';
import { SaveNote } from './SaveNote';
import { SceneMenu } from './SceneMenu';
import { SharedColours } from './SharedColours';

interface Props {
  onBefore: (held: boolean) => void;
  onSheet: () => void;
}

export function Header({ onBefore, onSheet }: Props) {
  const document = useDocument((state) => state.document);
  const sceneId = useDocument((state) => state.scene);
  const [handOff, setHandOff] = useState(false);
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  const scene = sceneOf(document, sceneId);
  if (!document) return null;
  const hold = {
    onPointerDown: () => onBefore(true),
    onPointerUp: () => onBefore(false),
    onPointerLeave: () => onBefore(false),
    onKeyDown: (event: React.KeyboardEvent) => event.key === ' ' && onBefore(true),
    onKeyUp: () => onBefore(false),
    onBlur: () => onBefore(false),
  };
  const setTheme = (theme: string) =>
    edit((draft) => {
      const current = sceneOf(draft, sceneId);
      if (current) current.theme = theme;
    });
  return (
    <header className={classes.header}>
      <Group gap={6} wrap="nowrap" className={classes.part}>
        <Link href="/" className={classes.home}>
          zolvet
        </Link>
        <h1 className={classes.project} title={document.name}>
          {document.name}
        </h1>
        <SceneMenu />
        {document.themes.length > 1 && (
          <SegmentedControl
            size="xs"
            aria-label="Theme"
            value={scene?.theme ?? ''}
            onChange={setTheme}
            data={document.themes.map((theme) => ({ value: theme.id, label: theme.name }))}
          />
        )}
        <SharedColours />
      </Group>
      <Group gap={6} wrap="nowrap" className={classes.part}>
        <History />
        <Button variant="default" size="compact-sm" {...hold}>
          Hold for before
        </Button>
        <SaveNote />
      </Group>
      <Group gap={8} wrap="nowrap">
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
        <Button size="compact-sm" onClick={() => setHandOff(true)}>
          Hand-off
        </Button>
      </Group>
      <HandOff opened={handOff} onClose={() => setHandOff(false)} />
    </header>
  );
}
