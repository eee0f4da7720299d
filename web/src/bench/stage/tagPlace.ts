/** A rectangle on the stage, in px of the screen. */
export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Between a row of tags and what it stands beside. */
const GAP = 6;

/**
 * Where a row of tags stands: beside what it is about, within the stage, and where it covers the least of other pieces.
 * What comes first is taken where several are as good.
 */
export function placeOf(tags: { w: number; h: number }, about: Box, others: Box[], stage: Box): Box {
  const [left, right] = [about.x, about.x + about.w - tags.w];
  const [above, below] = [about.y - tags.h - GAP, about.y + about.h + GAP];
  const middle = about.y + (about.h - tags.h) / 2;
  const places = [
    { x: left, y: above },
    { x: right, y: above },
    { x: left, y: below },
    { x: right, y: below },
    { x: about.x + about.w + GAP, y: middle },
    { x: about.x - tags.w - GAP, y: middle },
  ].map(({ x, y }) => ({
    x: within(x, stage.x, stage.x + stage.w - tags.w),
    y: within(y, stage.y, stage.y + stage.h - tags.h),
    ...tags,
  }));
  const covered = (place: Box) => {
    const own = shared(place, about) * 4;
    return others.reduce((sum, other) => sum + shared(place, other), own);
  };
  return places.reduce((best, place) => (covered(place) < covered(best) - 0.5 ? place : best));
}

function within(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(value, high));
}

/** The area two boxes share. */
function shared(a: Box, b: Box): number {
  const across = Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x);
  const down = Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y);
  return across > 0 && down > 0 ? across * down : 0;
}
