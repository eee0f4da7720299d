import { dequal } from 'dequal';
import { useRef } from 'react';

/** The value that was given first, as long as the ones after it say the same. */
export function useSame<T>(value: T): T {
  const kept = useRef(value);
  if (!dequal(kept.current, value)) kept.current = value;
  return kept.current;
}
