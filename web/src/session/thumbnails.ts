import { useEffect, useMemo, useRef, useState } from 'react';
import { useAnswered } from '../core/answers';
import type { Piece, Project, Scene, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { pieceOf, sceneOf, stackOf, wornBy } from './lookup';
import { useSeen } from './seen';
import { useDocument } from './store';
import { withParts } from './tree';

/** Pictures as data URLs, by the ids of what they show. */
export type Pictures = ReadonlyMap<string, string>;

/** Small pictures of those pieces of the open scene of a project that are in view. */
export function usePiecePictures(project: Project | null, inView: ReadonlySet<string>): Pictures {
  const sceneId = useDocument((state) => state.scene);
  const scene = sceneOf(project, sceneId);
  const wanted = useMemo(() => {
    const shown = project && scene && withParts(scene.pieces).filter((piece) => inView.has(piece.id));
    return (shown ?? []).map((piece) => ({
      id: piece.id,
      shows: [piece, ...around(project as Project, scene as Scene), ...worn(project as Project, piece)],
    }));
  }, [project, scene, inView]);
  const ask = async (ids: string[]) => {
    if (!project || !scene) return [];
    const body = { project, scene: scene.id, pieces: ids };
    return (await askCore('/api/thumbnails', body)).pieces;
  };
  return useKept(wanted, ask);
}

/** Small pictures of those coats of a piece of the open scene that are in view, each alone on it. */
export function useCoatPictures(piece: Piece, inView: ReadonlySet<string>): Pictures {
  const project = useSeen();
  const sceneId = useDocument((state) => state.scene);
  const coats = useDocument((state) => stackOf(state, piece));
  const scene = sceneOf(project, sceneId);
  const seen = pieceOf(scene, piece.id);
  const bare = useBare(project, scene, seen);
  const wanted = useMemo(
    () =>
      (coats ?? [])
        .filter(({ id }) => inView.has(id))
        .map((coat) => ({ id: coat.id, shows: [coat, ...bare] })),
    [coats, bare, inView],
  );
  const ask = async (ids: string[]) => {
    if (!project || !scene || !seen) return [];
    const body = { ...ofPiece(project, scene, seen), coats: ids };
    return (await askCore('/api/thumbnails', body)).coats;
  };
  return useKept(wanted, ask);
}

const none: Schemas['AdditionPicture'][] = [];

/** What could be added to a piece of the open scene: the same whatever coats it has already. */
export function useAdditions(piece: Piece): Schemas['AdditionPicture'][] {
  const project = useSeen();
  const sceneId = useDocument((state) => state.scene);
  const scene = sceneOf(project, sceneId);
  const seen = pieceOf(scene, piece.id);
  const bare = useBare(project, scene, seen);
  const asked = useRef<{ shows: unknown[]; body: ReturnType<typeof ofPiece> } | null>(null);
  if (project && scene && seen && !isOf(asked.current?.shows, bare)) {
    asked.current = { shows: bare, body: { ...ofPiece(project, scene, seen), additions: true } };
  }
  const ask = async ({ body }: NonNullable<typeof asked.current>) =>
    (await askCore('/api/thumbnails', body)).additions;
  return useAnswered(asked.current, ask, pace).answer ?? none;
}

const pace = { pause: 300 };

/** All that is seen of a piece without its coats. */
function useBare(project: Project | null, scene: Scene | undefined, piece: Piece | undefined): unknown[] {
  const kept = useRef<unknown[]>([]);
  if (!project || !scene || !piece) return kept.current;
  const { wear: _, states: __, ...body } = piece;
  const bare = [...Object.values(body), ...around(project, scene)];
  if (!isOf(kept.current, bare)) kept.current = bare;
  return kept.current;
}

/** What a piece is seen on and by. */
function around(
  { lights, swatches, themes, assets }: Project,
  { ground, theme, width, height }: Scene,
): unknown[] {
  return [lights, swatches, themes, assets, ground, theme, width, height];
}

function worn({ finishes }: Project, piece: Piece): unknown[] {
  const ids = new Set(wornBy(piece));
  return (finishes ?? []).filter((finish) => ids.has(finish.id));
}

function ofPiece(project: Project, scene: Scene, piece: Piece) {
  const none: string[] = [];
  return { project, scene: scene.id, pieces: none, piece: piece.id, coats: none, additions: false };
}

/** Something to be pictured, and all that is seen on the picture: what is not changed stays the same object. */
interface Wanted {
  id: string;
  shows: unknown[];
}

interface Drawn {
  picture: string;
  shows: unknown[];
}

/** So many pictures are kept, of what was in view last. */
const KEPT = 400;

/**
 * Pictures of what is wanted, each asked for once, and again when something that is seen on it has changed; until then
 * the last one stays.
 */
function useKept(
  wanted: Wanted[],
  ask: (ids: string[]) => Promise<{ id: string; picture: string }[]>,
): Pictures {
  const [drawn, setDrawn] = useState<ReadonlyMap<string, Drawn>>(new Map());
  const stale = useMemo(() => {
    const stale = wanted.filter(({ id, shows }) => !isOf(drawn.get(id)?.shows, shows));
    return stale.length > 0 ? stale : null;
  }, [wanted, drawn]);
  const told = useAnswered(stale, (stale: Wanted[]) => ask(stale.map(({ id }) => id)), pace);
  const { answer: pictures, of } = told;
  useEffect(() => {
    if (!pictures || !of) return;
    const found = new Map(pictures.map(({ id, picture }) => [id, picture]));
    setDrawn((before) => {
      const after = new Map(before);
      for (const { id, shows } of of) {
        after.delete(id);
        after.set(id, { picture: found.get(id) ?? '', shows });
      }
      return new Map([...after].slice(-KEPT));
    });
  }, [pictures, of]);
  return useMemo(() => new Map([...drawn].map(([id, { picture }]) => [id, picture])), [drawn]);
}

function isOf(one: unknown[] | undefined, other: unknown[]): boolean {
  return one?.length === other.length && one.every((part, at) => part === other[at]);
}
