import { Button, type ButtonProps } from '@mantine/core';
import type { KeyboardEvent, ReactNode } from 'react';

interface Props extends Pick<ButtonProps, 'size'> {
  /** As text, without a frame. */
  quiet?: boolean;
  /** What holding it does, where the text on it is short. */
  title?: string;
  onHold: (held: boolean) => void;
  children: ReactNode;
}

const look = { color: 'gray', c: 'var(--ink-soft)', fw: 500, fz: 12, px: 4 };

/** A button that does something for as long as it is held, by pointer or by the space bar. */
export function HoldButton({ size, quiet, title, onHold, children }: Props) {
  const end = () => onHold(false);
  return (
    <Button
      size={size ?? 'compact-sm'}
      variant={quiet ? 'subtle' : 'default'}
      {...(quiet ? look : {})}
      title={title}
      aria-label={title}
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
