import { useEffect } from 'react';
import { offerUndo } from '../page/toast';
import { undoerOfLast, useDocument } from '../session/store';

/** What was removed is said, with a way to have it back. */
export function useRemovals() {
  useEffect(
    () =>
      useDocument.subscribe((now, before) => {
        const step = now.past.at(-1);
        const isNew = step !== before.past.at(-1) && now.past.length >= before.past.length;
        // What is done again was removed, and said, before.
        if (!step?.removed || !isNew || before.future.includes(step)) return;
        offerUndo(step.removed, undoerOfLast());
      }),
    [],
  );
}
