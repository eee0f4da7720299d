import type { Piece, Schemas } from '../core/client';
import { defaults, interaction } from '../core/constants';
import { words } from '../messages';
import { say } from '../page/toast';
import { addAsset, nameOfFile, upload } from './assets';
import { addPiece } from './pieces';
import { useDocument } from './store';

/** A piece made of a drawing, icon or picture, no larger than a comfortable size. */
export interface Made {
  name: string;
  shape: Piece['shape'];
  size: { w: number; h: number };
  fill: Schemas['Fill'];
  asset?: Schemas['Asset'];
}

/** Reads a drawing, icon or picture; a drawing that is all black becomes an icon in one colour. An error says why it was refused. */
export async function pieceOfFile(file: File): Promise<Made> {
  const { asset, icon, drawing, width, height } = await upload(file);
  const name = nameOfFile(file);
  const longest = Math.max(width, height);
  const sized = (scale: number) => ({ w: Math.round(width * scale), h: Math.round(height * scale) });
  if (drawing && asset && !(drawing.is_black && icon)) {
    // What is small is shown as large as an icon.
    const scale = longest < interaction.icon_side ? interaction.icon_side / longest : 1;
    const size = sized(Math.min(scale, interaction.drawing_side / longest));
    const shape = { kind: 'drawing', asset: asset.id, ...size } as const;
    return { name, shape, size, fill: { kind: 'none' }, asset };
  }
  if (asset && !icon) {
    const size = sized(Math.min(1, interaction.picture_side / longest));
    const shape = { kind: 'picture', asset: asset.id, ...size } as const;
    return { name, shape, size, fill: { kind: 'none' }, asset };
  }
  const size = sized(interaction.icon_side / longest);
  const { d = '', viewbox = [0, 0, 1, 1], has_text } = icon ?? {};
  if (has_text) say(words.stage.textLeftOut(name));
  return { name, shape: { kind: 'path', d, viewbox, ...size } as Piece['shape'], size, fill: defaults.ink };
}

/** Puts a drawing, icon or picture on the scene that is open now, whichever is open once it was read. */
export async function placeFile(file: File) {
  const { scene } = useDocument.getState();
  const { name, shape, size, fill, asset } = await pieceOfFile(file);
  if (asset) addAsset(asset);
  addPiece(name, shape, size, fill, scene);
}

/** An icon that was copied or dropped as text, as the file it could have been. */
export function iconOfText(text: string, name: string): File | null {
  if (!/^\s*(<\?xml[^>]*>\s*)?(<!--[\s\S]*?-->\s*)?<svg[\s>]/.test(text)) return null;
  return new File([text], name, { type: 'image/svg+xml' });
}
