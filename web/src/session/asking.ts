import { shallowEqual } from '@mantine/hooks';
import { useMemo, useRef } from 'react';
import { useAnswer, useAnswered } from '../core/answers';
import type { Piece, Project, Report, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { sceneOf } from './lookup';
import { useSeen } from './seen';
import { useDocument } from './store';
import { useView } from './view';

interface Chosen {
  project: Project;
  scene: string;
  piece: string | null;
}

/** The document with what is chosen in it, the same object as long as nothing of it changes. */
function useChosen(): Chosen | null {
  const project = useSeen();
  const scene = useDocument((state) => state.scene);
  const piece = useDocument((state) => state.piece);
  const kept = useRef<Chosen | null>(null);
  const last = kept.current;
  if (!project || !scene) kept.current = null;
  else if (!last || last.project !== project || last.scene !== scene || last.piece !== piece) {
    kept.current = { project, scene, piece };
  }
  return kept.current;
}

const noBoxes: Schemas['PieceBox'][] = [];

interface Asked {
  line: Schemas['Line'] | null;
  conventions: Schemas['Conventions'] | null;
  target: Schemas['Target'] | null;
}

/** What the core says about the chosen piece, and whether that is about the piece as it is now. */
export interface Reported {
  report: Report | null;
  /** Whether nothing has changed since. */
  fresh: boolean;
  failure: string | null;
}

/** Everything the core says about the chosen piece; nothing about one that was chosen before. */
export function useReport(): Reported {
  const chosen = useChosen();
  const line = useView((state) => state.line);
  const target = useView((state) => state.target);
  const conventions = useView((state) => state.conventions);
  const asked = useMemo(
    () => (chosen?.piece ? { ...chosen, line, conventions, target } : null),
    [chosen, line, conventions, target],
  );
  const ask = async ({ project, scene, piece, line, target, conventions }: Chosen & Asked) =>
    await askCore('/api/resolve', { project, scene, piece: piece ?? '', line, target, conventions });
  const told = useAnswered(asked, ask, { pause: 60, atMost: 150 });
  const own = told.answer?.piece === chosen?.piece && told.of?.scene === chosen?.scene;
  return { report: own ? told.answer : null, fresh: own && told.fresh, failure: told.failure };
}

/** How close a target comes to the chosen piece, drawn as a browser will draw it. */
export function useFaithful(
  target: Schemas['Target'] | null,
): { of: string; answer: Schemas['FaithfulAnswer'] } | null {
  const chosen = useChosen();
  const asked = useMemo(() => (chosen?.piece && target ? { ...chosen, target } : null), [chosen, target]);
  const ask = async ({ project, scene, piece, target }: Chosen & { target: Schemas['Target'] }) => {
    const of = piece ?? '';
    return { of, answer: await askCore('/api/faithful', { project, scene, piece: of, target }) };
  };
  return useAnswer(asked, ask, { pause: 500 });
}

/** The chosen piece as an SVG file of its own, while that is what is shown; and which piece it is of. */
export function useDrawing(shown: boolean): { of: string; drawing: Schemas['DrawingAnswer'] } | null {
  const chosen = useChosen();
  const asked = useMemo(() => (shown && chosen?.piece ? chosen : null), [chosen, shown]);
  const ask = async ({ project, scene, piece }: Chosen) => {
    const of = piece ?? '';
    return { of, drawing: await askCore('/api/drawing', { project, scene, piece: of }) };
  };
  return useAnswer(asked, ask, { pause: 300 });
}

/** How well the chosen piece can be seen: quick, so that it keeps up with a drag. */
export function useSight(): Schemas['PieceVisibility'] | null {
  const chosen = useChosen();
  const asked = useMemo(() => (chosen?.piece ? chosen : null), [chosen]);
  const ask = async ({ project, scene, piece }: Chosen) =>
    (await askCore('/api/sights', { project, scene, piece }))[0]?.sight ?? null;
  return useAnswer(asked, ask, { pause: 30, atMost: 50 });
}

/** The text lying on the chosen piece that falls shortest of the contrast it needs; nothing where there is none. */
export function useTextOnIt(): Schemas['SeenText'] | null {
  const chosen = useChosen();
  const asked = useMemo(() => (chosen?.piece ? chosen : null), [chosen]);
  const ask = async ({ project, scene, piece }: Chosen) => {
    const [seen] = await askCore('/api/sights', { project, scene, piece, text_on_it: true });
    return { of: piece, text: seen?.text_on_it ?? null };
  };
  const answer = useAnswer(asked, ask, { pause: 300 });
  return answer && answer.of === chosen?.piece ? answer.text : null;
}

/** Where a coat of the chosen piece lies on the scene. */
export function useOutline(coat: string): Schemas['CoatOutline'] | null {
  const chosen = useChosen();
  const asked = useMemo(() => (chosen?.piece ? { ...chosen, coat } : null), [chosen, coat]);
  const ask = async ({ project, scene, piece, coat }: Chosen & { coat: string }) =>
    await askCore('/api/outline', { project, scene, piece: piece ?? '', coat });
  return useAnswer(asked, ask, { pause: 0 });
}

/** The boxes of all pieces of the open scene. */
export function useBoxes(): Schemas['PieceBox'][] {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const kept = useRef<{ project: Project; scene: string } | null>(null);
  if (!project || !scene) kept.current = null;
  else if (
    !kept.current ||
    kept.current.scene !== scene ||
    !sameShapes(kept.current.project, project, scene)
  ) {
    kept.current = { project, scene };
  }
  return useAnswer(kept.current, askBoxes, { pause: 0 }) ?? noBoxes;
}

const askBoxes = ({ project, scene }: { project: Project; scene: string }) =>
  askCore('/api/boxes', { project, scene });

/** Whether no piece of a scene has another box: what a piece wears, or is filled with, does not change that. */
function sameShapes(before: Project, after: Project, id: string): boolean {
  if (before === after) return true;
  const [was, is] = [sceneOf(before, id), sceneOf(after, id)];
  if (!was || !is || before.assets !== after.assets || was.pieces.length !== is.pieces.length) return false;
  return sameShapesOf(was.pieces, is.pieces);
}

function sameShapesOf(was: Piece[], is: Piece[]): boolean {
  if (was.length !== is.length) return false;
  const shape = ({ wear: _, states: __, fill: ___, ...rest }: Piece) => rest;
  const group = { kind: 'group' } as const;
  return was.every((piece, at) => {
    const other = is[at] as Piece;
    if (piece === other) return true;
    if (piece.shape.kind !== 'group' || other.shape.kind !== 'group') {
      return shallowEqual(shape(piece), shape(other));
    }
    const [one, another] = [
      { ...shape(piece), shape: group },
      { ...shape(other), shape: group },
    ];
    return shallowEqual(one, another) && sameShapesOf(piece.shape.parts, other.shape.parts);
  });
}
