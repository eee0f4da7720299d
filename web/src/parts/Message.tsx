import { Anchor, Loader, Text, Title } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link } from 'wouter';
import { words } from '../messages';
import classes from './Message.module.css';

/** A page that says what is the matter, and the way back. */
export function Lost({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className={classes.page}>
      <Title order={1} size="h2">
        {title}
      </Title>
      <Text>{children}</Text>
      <Anchor component={Link} href="/">
        {words.parts.goToYourProjects}
      </Anchor>
    </main>
  );
}

export function Waiting({ what }: { what: string }) {
  return (
    <main className={classes.page} aria-busy>
      <Loader size="sm" />
      <Text>{what}</Text>
    </main>
  );
}
