import { type RefObject, useCallback, useEffect, useState } from 'react';

/** Whether an element is in view, or nearly: what is far away need not be drawn. */
export function useSeen(ref: RefObject<HTMLElement | null>, onChange?: (seen: boolean) => void): boolean {
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const observer = new IntersectionObserver(([entry]) => setSeen(entry?.isIntersecting ?? false), {
      rootMargin: '300px',
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [ref]);
  useEffect(() => {
    onChange?.(seen);
    return () => onChange?.(false);
  }, [seen, onChange]);
  return seen;
}

/** Those of a list that are in view, each told of by [`useSeen`]. */
export function useSeenIds(): [ReadonlySet<string>, (id: string, isSeen: boolean) => void] {
  const [seen, setSeen] = useState<ReadonlySet<string>>(new Set());
  const see = useCallback((id: string, isSeen: boolean) => {
    setSeen((before) => {
      if (before.has(id) === isSeen) return before;
      const after = new Set(before);
      if (isSeen) after.add(id);
      else after.delete(id);
      return after;
    });
  }, []);
  return [seen, see];
}
