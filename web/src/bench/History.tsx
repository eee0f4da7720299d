import { Button, Menu, ScrollArea } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import { redo, undo, useFuture, usePast } from '../session/store';
import classes from './Header.module.css';
import { Revisions } from './Revisions';

/** Undo and redo, and every step by its name. */
export function History() {
  const past = usePast();
  const future = useFuture();
  const [listed, setListed] = useState(false);
  const button = { variant: 'subtle', color: 'gray', size: 'compact-sm' } as const;
  return (
    <>
      <Button
        {...button}
        c={past.length === 0 ? undefined : 'inherit'}
        disabled={past.length === 0}
        title={past[0] && `Undo: ${past[0]}`}
        onClick={() => undo()}
        aria-label="Undo"
      >
        <IconArrowBackUp size={16} />
        <span className={classes.word}>Undo</span>
      </Button>
      <Button
        {...button}
        c={future.length === 0 ? undefined : 'inherit'}
        disabled={future.length === 0}
        title={future[0] && `Redo: ${future[0]}`}
        onClick={() => redo()}
        aria-label="Redo"
      >
        <IconArrowForwardUp size={16} />
        <span className={classes.word}>Redo</span>
      </Button>
      <Menu position="bottom-start" width={300}>
        <Menu.Target>
          <Button {...button} c="inherit" px={4} aria-label="History">
            <IconChevronDown size={14} />
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <ScrollArea.Autosize mah={420}>
            {future.length > 0 && <Menu.Label>Undone</Menu.Label>}
            {steps(future)
              .reverse()
              .map(({ name, count, key }) => (
                <Menu.Item key={key} c="dimmed" onClick={() => redo(count)}>
                  {name}
                </Menu.Item>
              ))}
            <Menu.Label>Done, latest first: a click goes back to before it</Menu.Label>
            {steps(past).map(({ name, count, key }) => (
              <Menu.Item key={key} onClick={() => undo(count)}>
                {name}
              </Menu.Item>
            ))}
            {past.length === 0 && <Menu.Item disabled>Nothing yet</Menu.Item>}
          </ScrollArea.Autosize>
          <Menu.Divider />
          <Menu.Item onClick={() => setListed(true)}>Revisions</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Revisions opened={listed} onClose={() => setListed(false)} />
    </>
  );
}

/** Names with how many steps away each is. */
function steps(names: string[]) {
  return names.map((name, i) => ({ name, count: i + 1, key: `${names.length - i} ${name}` }));
}
