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

/**
 * The boxes of all pieces of the open scene. Where a piece is only moved, what shows it takes its place from the document, so
 * that its box need not be asked for before the hand rests.
 */
export function useBoxes(): Schemas['PieceBox'][] {
  const project = useDocument((state) => state.document);
  const scene = useDocument((state) => state.scene);
  const kept = useRef<{ asked: { project: Project; scene: string }; pause: number } | null>(null);
  if (!project || !scene) kept.current = null;
  else {
    const before = kept.current?.asked.scene === scene ? kept.current.asked.project : null;
    const change = before ? changeOfBoxes(before, project, scene) : 'shape';
    if (change !== 'none') {
      kept.current = { asked: { project, scene }, pause: change === 'place' ? 120 : 0 };
    }
  }
  const { asked, pause } = kept.current ?? { asked: null, pause: 0 };
  return useAnswer(asked, askBoxes, { pause }) ?? noBoxes;
}

const askBoxes = ({ project, scene }: { project: Project; scene: string }) =>
  askCore('/api/boxes', { project, scene });

/** What two versions of a scene, or of a piece, differ by, as far as boxes go. */
type BoxChange = 'none' | 'place' | 'shape';

/** What a piece wears, or is filled with, does not change its box. */
function changeOfBoxes(before: Project, after: Project, id: string): BoxChange {
  if (before === after) return 'none';
  const [was, is] = [sceneOf(before, id), sceneOf(after, id)];
  if (!was || !is || before.assets !== after.assets) return 'shape';
  return changeOfPieces(was.pieces, is.pieces);
}

function changeOfPieces(was: Piece[], is: Piece[]): BoxChange {
  if (was.length !== is.length) return 'shape';
  const changes = was.map((piece, at) => changeOfPiece(piece, is[at] as Piece));
  return (
    changes.find((change) => change === 'shape') ?? changes.find((change) => change === 'place') ?? 'none'
  );
}

function changeOfPiece(was: Piece, is: Piece): BoxChange {
  if (was === is) return 'none';
  const groups = was.shape.kind === 'group' && is.shape.kind === 'group';
  const form = ({ wear: _, states: __, fill: ___, x: ____, y: _____, shape, ...rest }: Piece) =>
    groups ? rest : { ...rest, shape };
  if (!shallowEqual(form(was), form(is))) return 'shape';
  const inside =
    was.shape.kind === 'group' && is.shape.kind === 'group'
      ? changeOfPieces(was.shape.parts, is.shape.parts)
      : 'none';
  return inside === 'none' && (was.x !== is.x || was.y !== is.y) ? 'place' : inside;
}
