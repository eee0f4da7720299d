import { Button, Group, Text, Title } from '@mantine/core';
import type { ReactNode } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { words } from '../messages';
import message from '../parts/Message.module.css';
import { session } from '../session/session';

/** Keeps the work where the page itself fails, and says so. */
export function Guard({ children }: { children: ReactNode }) {
  return (
    <ErrorBoundary FallbackComponent={PageFailed} onError={() => session()?.leave(false)}>
      {children}
    </ErrorBoundary>
  );
}

function PageFailed({ error }: FallbackProps) {
  const why = error instanceof Error ? error.message : String(error);
  return (
    <main className={message.page}>
      <Title order={1} size="h2">
        {words.frame.thisPageFailed}
      </Title>
      <Text>{words.frame.yourWorkIsSafe(why)}</Text>
      <Group>
        <Button onClick={() => window.location.reload()}>{words.frame.reload}</Button>
        <Button variant="default" component="a" href="/">
          {words.frame.allProjects}
        </Button>
      </Group>
    </main>
  );
}
