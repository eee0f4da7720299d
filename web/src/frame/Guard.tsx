import { Button, Group, Text, Title } from '@mantine/core';
import { Component, type ReactNode } from 'react';
import { words } from '../messages';
import message from '../parts/Message.module.css';
import { session } from '../session/session';

/** Keeps the work where the page itself fails, and says so. */
export class Guard extends Component<{ children: ReactNode }, { failure: Error | null }> {
  override state = { failure: null as Error | null };

  static getDerivedStateFromError(failure: Error) {
    return { failure };
  }

  override componentDidCatch() {
    session()?.leave(false);
  }

  override render() {
    const { failure } = this.state;
    if (!failure) return this.props.children;
    return (
      <main className={message.page}>
        <Title order={1} size="h2">
          {words.frame.thisPageFailed}
        </Title>
        <Text>{words.frame.yourWorkIsSafe(failure.message)}</Text>
        <Group>
          <Button onClick={() => window.location.reload()}>{words.frame.reload}</Button>
          <Button variant="default" component="a" href="/">
            {words.frame.allProjects}
          </Button>
        </Group>
      </main>
    );
  }
}
