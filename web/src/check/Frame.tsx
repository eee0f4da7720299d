import { type ReactNode, useEffect, useRef } from 'react';
import classes from './Check.module.css';

interface Props {
  label: string;
  width: number;
  /** Where the middle of a finding lies, in px of this screen. */
  at: { x: number; y: number } | null;
  children: ReactNode;
}

/** A window onto a picture that may be larger; windows that stand side by side show the same part. */
export function Frame({ label, width, at, children }: Props) {
  const frame = useRef<HTMLElement>(null);
  const { x, y } = at ?? {};
  useEffect(() => {
    const { current } = frame;
    if (!current || x == null || y == null) return;
    current.scrollTo({ left: x - current.clientWidth / 2, top: y - current.clientHeight / 2 });
  }, [x, y]);
  const together = () => {
    const { current } = frame;
    const others = current?.closest('[data-frames]')?.querySelectorAll<HTMLElement>('[data-frame]') ?? [];
    for (const other of others) {
      if (!current || other === current) continue;
      other.scrollLeft = current.scrollLeft;
      other.scrollTop = current.scrollTop;
    }
  };
  return (
    <section
      ref={frame}
      aria-label={label}
      className={classes.frame}
      style={{ maxWidth: width }}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what can be scrolled has to be reached by keyboard.
      tabIndex={0}
      data-frame
      onScroll={together}
    >
      {children}
    </section>
  );
}
