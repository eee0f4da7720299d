import { create } from 'zustand';
import type { Schemas } from '../core/client';

/** How the scene is looked at. None of it is part of the document. */
interface View {
  /** As a factor; 0 fits the scene. */
  zoom: number;
  /** The factor the scene is really shown at. */
  scale: number;
  /** Device pixels for one px, where they themselves are looked at. */
  density: number;
  /** Where the edge profile is measured; from the middle away from the first light when null. */
  line: Schemas['Line'] | null;
  /** Whether that line is drawn on the stage. */
  lineShown: boolean;
  /** The coat whose curve is pointed at. */
  pointed: string | null;
  /** Whether the elements of a drawing are listed. */
  elements: boolean;
  /** The element of a drawing that is pointed at, in px of that piece's box. */
  element: { piece: string; place: number[] } | null;
  /** Whether the values of the piece itself are open. */
  surface: boolean;
  /** Whether the values of a coat that are needed rarely are open. */
  rare: boolean;
  /** What the pointer does on the stage. */
  tool: Tool;
  /** Whether what is touched is chosen besides what was chosen before. */
  several: boolean;
  /** What becomes of the parts of a group that is resized. */
  resizing: Schemas['Resizing'];
  /** How the reference picture is seen. */
  reference: ReferenceMode;
  /** Where the wipe between the scene and the reference stands, from 0 to 1. */
  wipe: number;
  /** Whether the chosen piece is seen as this browser draws its code, too. */
  browser: boolean;
  /** What the CSS uses; what holds the piece best when null. */
  target: Schemas['Target'] | null;
  /** How plain values are said; in several forms side by side when null. */
  conventions: Schemas['Conventions'] | null;
}

export type Tool = 'hand' | 'pick' | 'measure' | 'points';
export type ReferenceMode = 'off' | 'beside' | 'over' | 'wipe' | 'difference';

export const useView = create<View>()(() => ({
  zoom: 0,
  scale: 1,
  density: 1,
  line: null,
  lineShown: false,
  pointed: null,
  elements: false,
  element: null,
  surface: false,
  rare: false,
  tool: 'hand',
  several: false,
  resizing: 'edges',
  reference: 'off',
  wipe: 0.5,
  browser: false,
  target: null,
  conventions: null,
}));

/** Zooms to choose from. */
export const zooms = [0, 0.5, 1, 2, 4, 8, 16];

/** As far as a scene can be zoomed out and in. */
export const SMALLEST = 0.05;
export const LARGEST = 16;

/** The next zoom in or out from what is shown. */
export function zoomBy(by: 1 | -1) {
  const { scale } = useView.getState();
  const steps = zooms.slice(1);
  const next =
    by > 0 ? steps.find((zoom) => zoom > scale + 0.01) : steps.findLast((zoom) => zoom < scale - 0.01);
  if (next) useView.setState({ zoom: next });
}
