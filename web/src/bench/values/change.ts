import type { Coat, Schemas } from '../../core/client';

/** A coat, and what the core says about it. */
export interface CoatProps {
  coat: Coat;
  said: Schemas['CoatReport'] | undefined;
}

/** Changes one coat; a gesture is one step to undo, ended by `commit`. */
export type Change<C extends Coat> = (to: Partial<C>, gesture?: boolean) => void;
