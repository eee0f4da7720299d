import type { Coat, Piece, Project, Scene, Schemas } from '../../core/client';
import type { Box } from './tagPlace';

/** A coat with all that its handles on the stage need. */
export interface HandleProps {
  document: Project;
  scene: Scene;
  piece: Piece;
  coat: Coat;
  /** Width and height of the piece's box. */
  size: { w: number; h: number };
  /** Other pieces, which tags should not cover. */
  others: Box[];
  scale: number;
}

export type Trace = Schemas['Trace'];
export type Handle = Schemas['Handle'];

/** The handle of a kind, where the coat has one. */
export function handleOf(outline: Schemas['CoatOutline'], kind: Handle['kind']): Handle | undefined {
  return outline.handles.find((handle) => handle.kind === kind);
}

/** A value, or the end of its range that is nearest. */
export function within(value: number, low: number, high: number): number {
  return Math.min(high, Math.max(low, value));
}
