import { create } from 'zustand';
import type { SeenElement } from '../session/fitting';

/** How a page is looked at. None of it is part of the document. */
interface PageView {
  /** The factor that it is shown at. */
  zoom: number;
  /** Px across. */
  width: number;
  scheme: 'light' | 'dark';
  /** The page in its frame, once it is there. */
  page: Document | null;
  /** The element that is selected and has nothing yet. */
  draft: { element: HTMLElement; seen: SeenElement } | null;
  /** Whether it was selected by keys: then what follows is reached by them. */
  byKeys: boolean;
  /** The selector that is thought of for it. */
  selector: string | null;
}

export const WIDTHS = [360, 768, 1280];

export const usePage = create<PageView>()(() => ({
  zoom: 1,
  width: 1280,
  scheme: 'light',
  page: null,
  draft: null,
  byKeys: false,
  selector: null,
}));

export function letGo() {
  usePage.setState({ draft: null, selector: null });
}
