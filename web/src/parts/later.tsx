import { type ComponentType, lazy, Suspense, useState } from 'react';
import { words } from '../messages';
import { Waiting } from './Message';

/** A view whose script is loaded when it is opened first, or ahead of that. */
export interface LaterView {
  View: ComponentType;
  /** Loads it ahead; that it cannot be loaded is said when it is opened. */
  ahead: () => void;
}

/** Once its script is here, a view is there at once when it is opened. */
export function later(load: () => Promise<ComponentType>): LaterView {
  let here: ComponentType | null = null;
  let loading: Promise<ComponentType> | null = null;
  const loaded = () => {
    loading ??= load().then(
      (view) => {
        here = view;
        return view;
      },
      (error) => {
        loading = null;
        throw error;
      },
    );
    return loading;
  };
  function View() {
    const [Shown] = useState<ComponentType>(() => here ?? lazy(async () => ({ default: await loaded() })));
    return (
      <Suspense fallback={<Waiting what={words.app.openingTheView} />}>
        <Shown />
      </Suspense>
    );
  }
  return { View, ahead: () => void loaded().catch(() => undefined) };
}
