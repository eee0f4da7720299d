import { Button, Popover, Text } from '@mantine/core';
import { type ReactNode, useState } from 'react';

interface Props {
  /** What would be lost. */
  asks: string;
  /** What the second button does, in a word. */
  does: string;
  /** What the first button is called where its text alone would not tell it apart. */
  name?: string;
  onSure: () => void;
  children: ReactNode;
}

/** A button that asks once more before it does what cannot be undone. */
export function Sure({ asks, does, name, onSure, children }: Props) {
  const [opened, setOpened] = useState(false);
  const sure = () => {
    setOpened(false);
    onSure();
  };
  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-end" width={260} trapFocus returnFocus>
      <Popover.Target>
        <Button
          size="compact-sm"
          variant="subtle"
          color="gray"
          c="inherit"
          aria-label={name}
          onClick={() => setOpened(!opened)}
        >
          {children}
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <Text size="sm" mb={8}>
          {asks}
        </Text>
        <Button size="compact-sm" color="red.9" onClick={sure}>
          {does}
        </Button>
      </Popover.Dropdown>
    </Popover>
  );
}
