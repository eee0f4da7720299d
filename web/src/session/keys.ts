import { create } from 'zustand';
import { remember, remembered } from '../core/storage';

const KEPT = 'zolvet-single-keys';

/**
 * Whether letters and signs do something by themselves. Whoever speaks to a computer, or presses keys by accident, can switch
 * that off (WCAG 2.2, 2.1.4).
 */
export const useSingleKeys = create<{ on: boolean }>()(() => ({ on: remembered(KEPT) !== 'off' }));

export function setSingleKeys(on: boolean) {
  useSingleKeys.setState({ on });
  remember(KEPT, on ? 'on' : 'off');
}
