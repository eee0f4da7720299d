import { useDeferredValue, useMemo } from 'react';

/**
 * A value that is slow to draw, given some moments late, so that drawing it does not delay what follows the hand. When
 * `of` changes, the value of the new thing is given at once. What is typed into must not take its value from here.
 */
export function useLater<T>(value: T, of: unknown): T {
  const later = useDeferredValue(useMemo(() => ({ value, of }), [value, of]));
  return later.of === of ? later.value : value;
}
