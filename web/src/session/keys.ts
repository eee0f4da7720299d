import { create } from 'zustand';

const KEPT = 'zolvet-single-keys';

/**
 * Whether letters and signs do something by themselves. Whoever speaks to a computer, or presses keys by accident, can switch
 * that off (WCAG 2.2, 2.1.4).
 */
export const useSingleKeys = create<{ on: boolean }>()(() => ({ on: kept() !== 'off' }));

export function setSingleKeys(on: boolean) {
  useSingleKeys.setState({ on });
  try {
    localStorage.setItem(KEPT, on ? 'on' : 'off');
  } catch {
    // A browser that keeps nothing asks again the next time.
  }
}

function kept(): string | null {
  try {
    return localStorage.getItem(KEPT);
  } catch {
    return null;
  }
}
