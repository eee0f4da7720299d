import { Button, type ButtonProps } from '@mantine/core';
import type { KeyboardEvent, ReactNode } from 'react';

interface Props extends Pick<ButtonProps, 'size'> {
  onHold: (held: boolean) => void;
  children: ReactNode;
}

/** A button that does something for as long as it is held, by pointer or by the space bar. */
export function HoldButton({ size, onHold, children }: Props) {
  const end = () => onHold(false);
  return (
    <Button
      size={size}
      variant="default"
      onPointerDown={() => onHold(true)}
      onPointerUp={end}
      onPointerCancel={end}
      onPointerLeave={end}
      onKeyDown={(event: KeyboardEvent) => event.key === ' ' && onHold(true)}
      onKeyUp={end}
      onBlur={end}
    >
      {children}
    </Button>
  );
}
