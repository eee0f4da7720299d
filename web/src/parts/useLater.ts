import { useDeferredValue, useMemo } from 'react';

/**
 * A value that takes its time to be drawn, drawn once the hand has been followed. That of another thing than before is
 * drawn at once.
 */
export function useLater<T>(value: T, of: unknown): T {
  const later = useDeferredValue(useMemo(() => ({ value, of }), [value, of]));
  return later.of === of ? later.value : value;
}
