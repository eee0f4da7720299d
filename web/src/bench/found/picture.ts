import { words } from '../../messages';

/** A picture that was given to be looked at. */
export interface GivenPicture {
  /** Its bytes in Base64. */
  base64: string;
  /** Where the browser shows it from. */
  address: string;
  /** In its own pixels. */
  width: number;
  height: number;
  /** Its pixels for one px, where that is known. */
  density?: number;
}

/** Reads a picture; a sentence is thrown where it is none. */
export async function pictureFrom(file: Blob, density?: number): Promise<GivenPicture> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const address = URL.createObjectURL(file);
  const image = new Image();
  image.src = address;
  try {
    await image.decode();
  } catch {
    throw new Error(words.found.noPicture);
  }
  return { base64: base64(bytes), address, width: image.naturalWidth, height: image.naturalHeight, density };
}

/** As much at once as a call takes. */
const PART = 0x8000;

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += PART) {
    text += String.fromCharCode(...bytes.subarray(at, at + PART));
  }
  return btoa(text);
}
