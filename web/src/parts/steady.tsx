import { type ComponentType, memo, useRef, useState } from 'react';

type Call = (...given: unknown[]) => unknown;

/** A part that is drawn anew only when what it shows has changed, not when what it calls has; it calls the newest. */
export function steady<P extends object>(Part: ComponentType<P>): ComponentType<P> {
  const Kept = memo(Part) as unknown as ComponentType<P>;
  return function Steady(props: P) {
    const newest = useRef(props);
    newest.current = props;
    const [calls] = useState(() => new Map<string, Call>());
    const kept = Object.entries(props).map(([name, value]) => {
      if (typeof value !== 'function') return [name, value];
      if (!calls.has(name)) {
        calls.set(name, (...given) => (newest.current as Record<string, Call | undefined>)[name]?.(...given));
      }
      return [name, calls.get(name)];
    });
    return <Kept {...(Object.fromEntries(kept) as P)} />;
  };
}
