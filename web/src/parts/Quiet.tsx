import { Button, type ButtonProps } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { type ComponentPropsWithRef, forwardRef } from 'react';
import classes from './Quiet.module.css';

interface Props extends ButtonProps, Omit<ComponentPropsWithRef<'button'>, keyof ButtonProps> {
  /** It opens a menu or panel. */
  opens?: boolean;
}

/** A command as quiet text. */
export const Quiet = forwardRef<HTMLButtonElement, Props>(function Quiet(
  { opens, className, ...button },
  ref,
) {
  return (
    <Button
      ref={ref}
      type="button"
      variant="subtle"
      color="gray"
      size="compact-sm"
      fz={13}
      px={7}
      className={className ? `${classes.quiet} ${className}` : classes.quiet}
      classNames={{ section: classes.caret }}
      rightSection={opens && <IconChevronDown aria-hidden size={12} />}
      {...button}
    />
  );
});
