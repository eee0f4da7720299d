/** A rectangle of a picture. */
export interface Region {
  x: number;
  y: number;
  pixels: ImageData;
}

/** What is new on a picture. */
export interface Regions {
  width: number;
  height: number;
  regions: Region[];
}

/** Reads width, height and the number of regions; x, y, width and height of each; then the pixels of each. */
export function regionsIn({ buffer, byteOffset, byteLength }: Uint8Array<ArrayBuffer>): Regions {
  const words = new DataView(buffer, byteOffset, byteLength);
  const number = (at: number) => words.getUint32(at * 4, true);
  const [width, height, count] = [number(0), number(1), number(2)];
  const regions: Region[] = [];
  let from = byteOffset + 12 + 16 * count;
  for (let at = 0; at < count; at += 1) {
    const [x, y, across, down] = [0, 1, 2, 3].map((part) => number(3 + at * 4 + part)) as [
      number,
      number,
      number,
      number,
    ];
    const length = across * down * 4;
    regions.push({ x, y, pixels: new ImageData(new Uint8ClampedArray(buffer, from, length), across, down) });
    from += length;
  }
  return { width, height, regions };
}

/** Puts what is new onto a canvas, which takes the size of the picture. */
export function putRegions(canvas: HTMLCanvasElement | OffscreenCanvas, { width, height, regions }: Regions) {
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  const context = canvas.getContext('2d') as
    | CanvasRenderingContext2D
    | OffscreenCanvasRenderingContext2D
    | null;
  for (const { x, y, pixels } of regions) context?.putImageData(pixels, x, y);
}
