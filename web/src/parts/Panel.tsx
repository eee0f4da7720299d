import { Popover, type PopoverProps } from '@mantine/core';
import { useUncontrolled } from '@mantine/hooks';
import { type ReactNode, useEffect, useId, useRef } from 'react';
import { commit } from '../session/store';

interface Props extends Pick<PopoverProps, 'position' | 'width'> {
  /** What opens and closes it; its click is heard here. */
  target: (toggle: () => void, opened: boolean) => ReactNode;
  opened?: boolean;
  onChange?: (opened: boolean) => void;
  className?: string;
  /** What it is called, where what opens it has a role of its own, such as a menu. */
  label?: string;
  children: ReactNode;
}

/** The panels that are open, the innermost last: Escape closes that one. */
const open: string[] = [];

/**
 * Something that opens beside what was pressed. A press outside closes it; a press in what was opened from within it is
 * not outside, though it lies elsewhere in the page.
 */
export function Panel({ target, opened, onChange, className, label, children, ...place }: Props) {
  const [shown, setShown] = useUncontrolled({ value: opened, defaultValue: false, onChange });
  const id = useId();
  const inside = useRef<Event | null>(null);
  const close = useRef(() => {});
  close.current = () => {
    setShown(false);
    commit();
  };
  useEffect(() => {
    if (!shown) return;
    const onPointerDown = (event: Event) => {
      if (document.getElementById(id)?.contains(event.target as Node)) return;
      // By then the press was heard inside, if it was.
      window.setTimeout(() => inside.current !== event && close.current());
    };
    window.addEventListener('pointerdown', onPointerDown, true);
    return () => window.removeEventListener('pointerdown', onPointerDown, true);
  }, [shown, id]);
  // What had the focus goes with the panel; it comes back to what opened it.
  useEffect(() => {
    if (!shown) return;
    return () => {
      requestAnimationFrame(() => {
        if (document.activeElement === document.body) document.getElementById(id)?.focus();
      });
    };
  }, [shown, id]);
  useEffect(() => {
    if (!shown) return;
    open.push(id);
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented || open.at(-1) !== id) return;
      event.preventDefault();
      close.current();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      open.splice(open.indexOf(id), 1);
    };
  }, [shown, id]);
  return (
    <Popover
      id={id}
      opened={shown}
      onChange={setShown}
      closeOnClickOutside={false}
      closeOnEscape={false}
      trapFocus
      withRoles={label === undefined}
      {...place}
    >
      <Popover.Target>{target(() => (shown ? close.current() : setShown(true)), shown)}</Popover.Target>
      <Popover.Dropdown
        className={className}
        role={label && 'dialog'}
        aria-label={label}
        tabIndex={-1}
        onPointerDownCapture={(event) => {
          inside.current = event.nativeEvent;
        }}
      >
        {shown && children}
      </Popover.Dropdown>
    </Popover>
  );
}
