/** The mean colour of a square of pixels around a point of the screen, and the pixels around it for a loupe. */
export interface Read {
  colour: string;
  around: ImageData;
}

/** Pixels the loupe shows to a side. */
export const LOUPE = 11;

/** The canvas that shows a sheet's picture: one that a worker paints, over the sheet's own, or that. */
export function shownOn(sheet: Element): HTMLCanvasElement | null {
  return sheet.querySelector('canvas[data-leaf]:not([hidden])') ?? sheet.querySelector('canvas');
}

/** Reads a canvas or picture under a point of the screen; nothing outside of it. */
export function readPixels(
  source: HTMLCanvasElement | HTMLImageElement,
  clientX: number,
  clientY: number,
  side: number,
): Read | null {
  const box = source.getBoundingClientRect();
  const { width, height } = sizeOf(source);
  if (box.width === 0 || width === 0) return null;
  const x = Math.floor(((clientX - box.left) / box.width) * width);
  const y = Math.floor(((clientY - box.top) / box.height) * height);
  if (x < 0 || y < 0 || x >= width || y >= height) return null;
  const around = aroundOf(source, x, y);
  if (!around) return null;
  // Beyond the edge there is nothing, which does not count.
  const [middle, half] = [(LOUPE - 1) / 2, (side - 1) / 2];
  const mean = [0, 1, 2].map((channel) => {
    let [sum, covered] = [0, 0];
    for (let row = middle - half; row <= middle + half; row += 1) {
      for (let column = middle - half; column <= middle + half; column += 1) {
        const at = (row * LOUPE + column) * 4;
        // A pixel counts as far as it is covered: at the edge of a scene shown at an odd size it may be so by half.
        const alpha = around.data[at + 3] ?? 0;
        sum += (around.data[at + channel] ?? 0) * alpha;
        covered += alpha;
      }
    }
    return covered === 0 ? 0 : Math.round(sum / covered);
  });
  return { colour: `#${mean.map((part) => part.toString(16).padStart(2, '0')).join('')}`, around };
}

function sizeOf(source: HTMLCanvasElement | HTMLImageElement) {
  if (source instanceof HTMLCanvasElement) return source;
  return { width: source.naturalWidth, height: source.naturalHeight };
}

const copy = document.createElement('canvas');

/** The pixels around a point. They are copied first: what a worker paints on cannot be read by the page. */
function aroundOf(source: HTMLCanvasElement | HTMLImageElement, x: number, y: number): ImageData | null {
  copy.width = LOUPE;
  copy.height = LOUPE;
  const context = copy.getContext('2d', { willReadFrequently: true });
  const middle = (LOUPE - 1) / 2;
  context?.drawImage(source, middle - x, middle - y);
  return context?.getImageData(0, 0, LOUPE, LOUPE) ?? null;
}
