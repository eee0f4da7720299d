import { Button, Group, Text, Title } from '@mantine/core';
import { Component, type ReactNode } from 'react';
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
          This page failed
        </Title>
        <Text>
          Your work is kept: it is saved, or lies in this browser until it can be. Reload the page to go on
          with it. What failed: {failure.message}
        </Text>
        <Group>
          <Button onClick={() => window.location.reload()}>Reload</Button>
          <Button variant="default" component="a" href="/">
            All projects
          </Button>
        </Group>
      </main>
    );
  }
}
