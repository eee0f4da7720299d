import { type SplitterPaneSize as Size, useLocalStorage } from '@mantine/hooks';
import type { MouseEvent, PointerEvent } from 'react';

/** Sizes in px that clicks on a part's edge step through. */
type Steps = number[];

/** What the bench's splitters are given: their sizes, remembered in this browser, and what a click on an edge does. */
export interface Panes {
  sizes: Size[];
  onSizeChange: (sizes: Size[]) => void;
  onPointerDownCapture: (event: PointerEvent<HTMLElement>) => void;
  onClick: (event: MouseEvent<HTMLElement>) => void;
}

/** How far a pointer may move between press and release of a click, in px. */
const STILL = 3;

/**
 * The sizes of the bench's parts. One of them is in px: a click on its edge that drags nothing takes it to the next of
 * `steps`, so that no drag is needed (WCAG 2.2, SC 2.5.7).
 */
export function usePanes(name: string, first: Size[], steps: Steps): Panes {
  const [kept, onSizeChange] = useLocalStorage<Size[]>({
    key: `zolvet panes ${name}`,
    defaultValue: first,
    getInitialValueInEffect: false,
  });
  const sizes = kept.length === first.length ? kept : first;
  const onPointerDownCapture = ({ clientX, clientY }: PointerEvent) => {
    pressed = [clientX, clientY];
  };
  const onClick = (event: MouseEvent<HTMLElement>) => {
    const edge = (event.target as Element).closest('[role=separator]');
    const moved = Math.hypot(event.clientX - pressed[0], event.clientY - pressed[1]);
    if (edge?.parentElement === event.currentTarget && moved < STILL) {
      onSizeChange(sizes.map((size): Size => (typeof size === 'string' ? `${next(size, steps)}px` : size)));
    }
  };
  return { sizes, onSizeChange, onPointerDownCapture, onClick };
}

let pressed: [number, number] = [0, 0];

/** The next larger step, or the first after the largest. */
function next(size: string, steps: Steps): number {
  const now = Number.parseFloat(size);
  return steps.find((step) => step > now + 1) ?? steps[0] ?? now;
}
