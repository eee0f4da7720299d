import { useMemo } from 'react';
import { applyPatch, type Operation } from 'rfc6902';
import { useAnswer } from '../core/answers';
import type { Piece, Project, Scene, Schemas } from '../core/client';
import { askCore } from '../core/core';
import { sceneOf } from './lookup';
import { useSeen } from './seen';
import { edit, useDocument } from './store';
import { listOf } from './tree';

/** An element, and the piece that shows it. */
export type ShownElement = Schemas['ArtworkElement'] & {
  piece: string;
  /** The piece shows nothing else. */
  alone: boolean;
};

/** What can be taken out where a piece lies. */
export interface Artwork extends Omit<Schemas['ArtworkAnswer'], 'elements' | 'at'> {
  elements: ShownElement[];
}

/**
 * The pieces that show elements which can be taken out where a piece lies: a drawing itself, and what is left of it beside what was
 * taken out, or in the group that it became.
 */
export function drawingsAt(scene: Scene | undefined, piece: Piece): Piece[] {
  if (piece.shape.kind === 'group' && !piece.drawn_from) {
    return piece.shape.parts.filter(({ shape }) => shape.kind === 'drawing');
  }
  const asset = piece.shape.kind === 'drawing' ? piece.shape.asset : piece.drawn_from?.asset;
  if (!asset || !scene) return [];
  if (piece.shape.kind === 'drawing' && !piece.shape.elements) return [piece];
  return listOf(scene, piece.id).filter(({ shape }) => shape.kind === 'drawing' && shape.asset === asset);
}

/** The elements that are left in some drawings of one file, highest first; and what the chosen one of them can become. */
export function useArtwork(left: Piece[], chosen: Piece): Artwork | null {
  // A text of the file may have been taken out as a path.
  const isPath = chosen.drawn_from && chosen.shape.kind === 'path';
  const pieces = isPath ? [...left, chosen] : left;
  const project = useSeen();
  const scene = useDocument((state) => state.scene);
  const shown = JSON.stringify(pieces.map(({ id, shape }) => [id, shape]));
  // A font that is brought may be one that was missing.
  const files = project?.assets?.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the elements change with the shapes and the files alone
  const question = useMemo(
    () => (project && scene ? { project, scene, pieces, chosen: chosen.id } : null),
    [Boolean(project), scene, shown, files, chosen.id],
  );
  return useAnswer(question, artworkOf, { pause: 0, atMost: 400 });
}

interface Asked {
  project: Project;
  scene: string;
  pieces: Piece[];
  chosen: string;
}

async function artworkOf({ project, scene, pieces, chosen }: Asked): Promise<Artwork> {
  const ask = async ({ id: piece, drawn_from: from }: Piece) => {
    const { elements, ...more } = await askCore('/api/artwork', { project, scene, piece });
    const alone = elements.length === 1;
    const left = from ? [] : elements.map((element) => ({ ...element, piece, alone }));
    return { piece, elements: left, ...more };
  };
  const found = await Promise.all(pieces.map(ask));
  const elements = found.flatMap((one) => one.elements).sort((one, other) => other.number - one.number);
  const [first] = found;
  const missing = first?.missing_families ?? [];
  const own = found.find(({ piece }) => piece === chosen);
  return {
    elements,
    missing_families: missing,
    in_one_colour: own?.in_one_colour,
    as_text: own?.as_text,
    as_coats: own?.as_coats,
  };
}

/** Takes an element out of a drawing, and chooses it. The picture stays the same. */
export async function takeOut(piece: string, element: number): Promise<void> {
  const { document, scene } = useDocument.getState();
  const current = sceneOf(document, scene);
  if (!document || !scene || !current) return;
  const { patch, chosen } = await askCore('/api/artwork/take-out', {
    project: document,
    scene,
    piece,
    element,
  });
  // What changed in the meantime is not overwritten.
  if (sceneOf(useDocument.getState().document, scene) !== current) return takeOut(piece, element);
  edit((draft) => {
    const mine = sceneOf(draft, scene);
    if (mine) applyPatch(mine, structuredClone(patch) as Operation[]);
  });
  useDocument.setState({ piece: chosen[0] ?? null, also: [], coat: null, ticked: [] });
}

/** Takes the highest element at a place of a drawing's box out of it. */
export async function takeOutAt(piece: string, at: { x: number; y: number }): Promise<void> {
  const { document, scene } = useDocument.getState();
  if (!document || !scene) return;
  const asked = { project: document, scene, piece, at: [at.x, at.y] as [number, number] };
  const { elements, at: found } = await askCore('/api/artwork', asked);
  if (typeof found === 'number' && elements.length > 1) await takeOut(piece, found);
}
