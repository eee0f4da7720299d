import type { Schemas } from '../core/client';
import { askCore } from '../core/core';
import { LatestRequest } from '../core/latestRequest';
import { sayFailure } from '../page/toast';
import { replaceStack } from '../session/coats';
import { begin, cancel, commit, useDocument } from '../session/store';

/** The profile's curve in a hand: the coats that the core finds for where it is pulled follow at once. */
export interface Pulling {
  /** Pulls a place, in px from the edge, to a darkness in %. */
  to: (at: number, darkness: number) => void;
  /** Ends it: what was pulled is one step to undo, or is given up. */
  end: (keeps: boolean) => void;
}

/** Takes hold of the profile of the chosen piece along a line; nothing where no piece is chosen. */
export function takeHold(line: Schemas['Line']): Pulling | null {
  const { document, scene, piece, state } = useDocument.getState();
  if (!document || !scene || !piece || state !== 'rest') return null;
  const goesOn = begin();
  const held = { project: document, scene, piece, line };
  let [ended, asked, known] = [false, false, false];
  // A reason is told once in a pull, however often it is met.
  let said: string | null = null;
  const ask = async (pull: Schemas['Pull'], signal: AbortSignal) =>
    await askCore('/api/solve/draw', { ...held, pull }, signal);
  // Another gesture may have begun in the meantime.
  const isHeld = () => goesOn() && useDocument.getState().gesture !== null;
  const newest = new LatestRequest(ask, (told) => {
    known = told.fresh;
    if (!isHeld()) return;
    if (told.failure && told.failure !== said) sayFailure(told.failure);
    said = told.failure ?? said;
    if (told.answer) replaceStack(told.answer.coats, { scene, piece, state }, true);
    // What was pulled last may still be on its way when the hand lets go.
    if (ended && (told.fresh || told.failure)) commit();
  });
  return {
    to: (at, darkness) => {
      asked = true;
      newest.change({ at, to: darkness }, { pause: 0 });
    },
    end: (keeps) => {
      ended = true;
      if (!keeps) {
        newest.pause();
        if (isHeld()) cancel();
      } else if (!asked || known) commit();
    },
  };
}
