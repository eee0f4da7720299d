import { Button, Group, Menu, SegmentedControl, useMantineColorScheme } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconChevronDown, IconMoon, IconSun } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'wouter';
import { chooseScene, edit, redo, sceneOf, undo, useDocument, useFuture, usePast } from '../document/store';
import { HandOff } from '../handoff/HandOff';
import classes from './Header.module.css';
import { SaveNote } from './SaveNote';

export function Header({ onBefore }: { onBefore: (held: boolean) => void }) {
  const document = useDocument((state) => state.document);
  const sceneId = useDocument((state) => state.scene);
  const past = usePast();
  const future = useFuture();
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
      <Group gap={6} wrap="nowrap">
        <Link href="/" className={classes.home}>
          zolvet
        </Link>
        <h1 className={classes.project}>{document.name}</h1>
        <Menu position="bottom-start">
          <Menu.Target>
            <Button
              variant="subtle"
              color="gray"
              size="compact-sm"
              c="inherit"
              rightSection={<IconChevronDown size={14} />}
            >
              {scene?.name ?? 'No scene'}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            {document.scenes.map((other) => (
              <Menu.Item key={other.id} onClick={() => chooseScene(other.id)}>
                {other.name}
              </Menu.Item>
            ))}
          </Menu.Dropdown>
        </Menu>
        {document.themes.length > 1 && (
          <SegmentedControl
            size="xs"
            aria-label="Theme"
            value={scene?.theme ?? ''}
            onChange={setTheme}
            data={document.themes.map((theme) => ({ value: theme.id, label: theme.name }))}
          />
        )}
      </Group>
      <Group gap={6} wrap="nowrap">
        <Button
          variant="subtle"
          color="gray"
          c={past === 0 ? undefined : 'inherit'}
          size="compact-sm"
          disabled={past === 0}
          onClick={undo}
          leftSection={<IconArrowBackUp size={16} />}
        >
          Undo
        </Button>
        <Button
          variant="subtle"
          color="gray"
          c={future === 0 ? undefined : 'inherit'}
          size="compact-sm"
          disabled={future === 0}
          onClick={redo}
          leftSection={<IconArrowForwardUp size={16} />}
        >
          Redo
        </Button>
        <Button variant="default" size="compact-sm" {...hold}>
          Hold for before
        </Button>
        <SaveNote />
      </Group>
      <Group gap={8} wrap="nowrap">
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
