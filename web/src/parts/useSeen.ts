import { useIntersection } from '@mantine/hooks';
import { type RefObject, useCallback, useEffect, useState } from 'react';

/** Whether an element is in view, or nearly: what is far away need not be drawn. */
export function useSeen(ref: RefObject<HTMLElement | null>, onChange?: (seen: boolean) => void): boolean {
  const { ref: observe, entry } = useIntersection({ rootMargin: '300px' });
  const seen = entry?.isIntersecting ?? false;
  useEffect(() => {
    observe(ref.current);
    return () => {
      observe(null);
    };
  }, [ref, observe]);
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
