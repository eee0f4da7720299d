import { Group } from '@mantine/core';
import type { ReactNode } from 'react';
import { History } from '../bench/History';
import { SaveNote } from '../bench/SaveNote';
import { useDocument } from '../session/store';
import classes from './Bar.module.css';
import { Home } from './Home';
import { Views } from './Views';

/** The head of a view that is not the workbench. */
export function Bar({ open, children }: { open: string; children?: ReactNode }) {
  const id = useDocument((state) => state.id);
  return (
    <header className={classes.bar}>
      <Group gap={8} wrap="nowrap" className={classes.part}>
        <Home />
        <Views id={id} open={open} />
      </Group>
      <Group gap={8} wrap="nowrap">
        {children}
        <History />
        <SaveNote />
      </Group>
    </header>
  );
}
