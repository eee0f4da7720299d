import { Group } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link } from 'wouter';
import { useDocument } from '../document/store';
import { History } from '../workbench/History';
import { SaveNote } from '../workbench/SaveNote';
import classes from './Bar.module.css';
import { Views } from './Views';

/** The head of a view that is not the workbench. */
export function Bar({ open, children }: { open: string; children?: ReactNode }) {
  const id = useDocument((state) => state.id);
  const name = useDocument((state) => state.document?.name);
  return (
    <header className={classes.bar}>
      <Group gap={8} wrap="nowrap" className={classes.part}>
        <Link href="/" className={classes.home}>
          zolvet
        </Link>
        <h1 className={classes.project} title={name}>
          {name}
        </h1>
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
