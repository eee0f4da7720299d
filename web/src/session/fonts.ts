import type { Project, Schemas } from '../core/client';
import { fonts as shipped } from '../core/constants';
import { words } from '../messages';
import { addAsset, upload } from './assets';
import { chosenPieces } from './choice';
import { pieceOf, sceneOf } from './lookup';
import { editPieces } from './pieces';
import { edit, together, useDocument } from './store';

/** A family that texts can be set in, and its weights. */
export interface Family {
  name: string;
  weights: number[];
  /** Its files, where the project brings it. */
  brought: Schemas['Asset'][];
}

/** Every family: those that ship, then those that the project brings. */
export function familiesOf(document: Project | null): Family[] {
  const ship = Object.entries(shipped).map(([name, weights]) => ({ name, weights, brought: [] }));
  const own = new Map<string, Family>();
  for (const asset of document?.assets ?? []) {
    if (!asset.font) continue;
    const { family, weights } = asset.font;
    const known = own.get(family) ?? { name: family, weights: [], brought: [] };
    const all = new Set([...known.weights, ...within(weights)]);
    const sorted = [...all].sort((one, other) => one - other);
    own.set(family, { name: family, weights: sorted, brought: [...known.brought, asset] });
  }
  return [...ship, ...own.values()];
}

/** The whole hundreds from a lowest to a highest weight; the one it has where that is none. */
function within([low = 400, high = 400]: number[]): number[] {
  const hundreds = [100, 200, 300, 400, 500, 600, 700, 800, 900];
  const fitting = hundreds.filter((weight) => low <= weight && weight <= high);
  return fitting.length > 0 ? fitting : [low];
}

export function nearest(weights: number[], weight: number): number {
  return weights.reduce((best, other) => (Math.abs(other - weight) < Math.abs(best - weight) ? other : best));
}

const endings = /\.(ttf|otf|woff2)$/i;

export function isFont(file: File): boolean {
  return endings.test(file.name);
}

/** Brings a font into the project and sets the chosen text in it; an error says why it was refused. */
export async function bringFont(file: File) {
  const chosen = chosenPieces();
  const { asset } = await upload(file);
  if (!asset?.font) throw new Error(words.session.notAFont);
  const { family } = asset.font;
  together(() => {
    addAsset(asset);
    const { document, scene } = useDocument.getState();
    const weights = familiesOf(document).find((one) => one.name === family)?.weights ?? [400];
    const texts = chosen.filter((id) => pieceOf(sceneOf(document, scene), id)?.shape.kind === 'text');
    editPieces(texts, (piece) => {
      if (piece.shape.kind !== 'text') return;
      piece.shape.weight = nearest(weights, piece.shape.weight);
      piece.shape.font = family;
    });
  });
}

/** Writes under which terms a family may be used. */
export function writeLicence(family: string, licence: string) {
  edit((draft) => {
    for (const { font } of draft.assets ?? []) if (font?.family === family) font.licence = licence;
  }, true);
}
