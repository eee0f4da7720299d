import { type ChangeEvent, useState } from 'react';
import { limits } from '../core/constants';

/**
 * What a field for a name is given. A name is never empty: while nothing stands in the field, the name before holds, and comes
 * back when the field is left.
 */
export function useName(name: string, write: (name: string) => void, done: () => void) {
  const [empty, setEmpty] = useState(false);
  return {
    // Names are in any script.
    dir: 'auto',
    maxLength: limits.nameCharacters,
    value: empty ? '' : name,
    onChange: (event: ChangeEvent<HTMLInputElement>) => {
      const typed = event.currentTarget.value;
      setEmpty(typed.trim() === '');
      if (typed.trim() !== '') write(typed);
    },
    onBlur: () => {
      setEmpty(false);
      done();
    },
  } as const;
}
