/** The mean colour of a square of pixels around a point of the screen, and the pixels around it for a loupe. */
export interface Read {
  colour: string;
  around: ImageData;
}

/** Pixels the loupe shows to a side. */
export const LOUPE = 11;

const copies = new WeakMap<HTMLImageElement, HTMLCanvasElement>();

/** Reads a canvas or picture under a point of the screen; nothing outside of it. */
export function readPixels(
  source: HTMLCanvasElement | HTMLImageElement,
  clientX: number,
  clientY: number,
  side: number,
): Read | null {
  const box = source.getBoundingClientRect();
  const canvas = source instanceof HTMLCanvasElement ? source : copyOf(source);
  const context = canvas?.getContext('2d');
  if (!canvas || !context || box.width === 0) return null;
  const x = Math.floor(((clientX - box.left) / box.width) * canvas.width);
  const y = Math.floor(((clientY - box.top) / box.height) * canvas.height);
  if (x < 0 || y < 0 || x >= canvas.width || y >= canvas.height) return null;
  const half = (side - 1) / 2;
  // Beyond the edge there is nothing to take the mean of.
  const [left, top] = [Math.max(0, x - half), Math.max(0, y - half)];
  const [right, bottom] = [Math.min(canvas.width, x + half + 1), Math.min(canvas.height, y + half + 1)];
  const { data } = context.getImageData(left, top, right - left, bottom - top);
  // A pixel counts as far as it is covered: at the edge of a scene shown at an odd size it may be so by half.
  const mean = [0, 1, 2].map((channel) => {
    let [sum, covered] = [0, 0];
    for (let i = 0; i < data.length; i += 4) {
      const alpha = data[i + 3] ?? 0;
      sum += (data[i + channel] ?? 0) * alpha;
      covered += alpha;
    }
    return covered === 0 ? 0 : Math.round(sum / covered);
  });
  const colour = `#${mean.map((part) => part.toString(16).padStart(2, '0')).join('')}`;
  const loupe = (LOUPE - 1) / 2;
  return { colour, around: context.getImageData(x - loupe, y - loupe, LOUPE, LOUPE) };
}

function copyOf(picture: HTMLImageElement): HTMLCanvasElement | null {
  const known = copies.get(picture);
  if (known || !picture.complete || picture.naturalWidth === 0) return known ?? null;
  const canvas = document.createElement('canvas');
  canvas.width = picture.naturalWidth;
  canvas.height = picture.naturalHeight;
  canvas.getContext('2d')?.drawImage(picture, 0, 0);
  copies.set(picture, canvas);
  return canvas;
}
