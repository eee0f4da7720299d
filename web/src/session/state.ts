import type { Project } from '../core/client';
import { type History, noHistory, type Place } from './history';

/** What is edited, and what is chosen in it. Only the document is undone. */
export interface DocumentState extends History {
  id: string;
  document: Project | null;
  /** The gesture that is going on: the document before it, and where it was begun. */
  gesture: { before: Project; place: Place } | null;
  scene: string | null;
  /** The piece whose stack is shown. */
  piece: string | null;
  /** Pieces chosen besides it. */
  also: string[];
  /** The coat that is open. */
  coat: string | null;
  /** Coats of the stack that are chosen together. */
  ticked: string[];
  /** The state the chosen piece is seen and changed in. */
  state: PieceState;
}

/** What somebody does with a piece. */
export const pieceStates = ['rest', 'hover', 'pressed', 'focus', 'disabled'] as const;

export type PieceState = (typeof pieceStates)[number];

export const nothing = { piece: null, also: [], coat: null, ticked: [], state: 'rest' as PieceState };
export const empty: DocumentState = {
  ...noHistory,
  id: '',
  document: null,
  gesture: null,
  scene: null,
  ...nothing,
};

/** What is chosen: what an answer that comes later is meant for. */
export type Target = Pick<DocumentState, 'scene' | 'piece' | 'state'>;
