/** A box on the scene, in px. */
export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** A line two boxes share, or the distance between them, drawn while one is dragged. */
export interface Guide {
  from: [number, number];
  to: [number, number];
  /** The distance in px, where it is one. */
  gap?: number;
}

interface Snapped {
  x: number;
  y: number;
  guides: Guide[];
}

/** A dragged box moved onto the edges and middles of others when it is near them, with what it lines up with. */
export function snapped(
  box: Box,
  others: Box[],
  scene: { width: number; height: number },
  near: number,
): Snapped {
  const whole = { x: 0, y: 0, w: scene.width, h: scene.height };
  const across = closest(
    [box.x, box.w],
    [...others, whole].map((other) => [other.x, other.w]),
    near,
  );
  const down = closest(
    [box.y, box.h],
    [...others, whole].map((other) => [other.y, other.h]),
    near,
  );
  const placed = { ...box, x: box.x + (across?.by ?? 0), y: box.y + (down?.by ?? 0) };
  const guides: Guide[] = [];
  if (across) {
    const touched = others.filter((other) =>
      marks(other.x, other.w).some((at) => Math.abs(at - across.at) < 0.01),
    );
    const ends = [placed, ...touched].flatMap((other) => [other.y, other.y + other.h]);
    if (touched.length === 0) ends.push(0, scene.height);
    guides.push({ from: [across.at, Math.min(...ends)], to: [across.at, Math.max(...ends)] });
  }
  if (down) {
    const touched = others.filter((other) =>
      marks(other.y, other.h).some((at) => Math.abs(at - down.at) < 0.01),
    );
    const ends = [placed, ...touched].flatMap((other) => [other.x, other.x + other.w]);
    if (touched.length === 0) ends.push(0, scene.width);
    guides.push({ from: [Math.min(...ends), down.at], to: [Math.max(...ends), down.at] });
  }
  return { x: placed.x, y: placed.y, guides: [...guides, ...gaps(placed, others)] };
}

function marks(at: number, length: number): number[] {
  return [at, at + length / 2, at + length];
}

function closest(mine: [number, number], others: number[][], near: number) {
  let best: { by: number; at: number } | null = null;
  for (const [at = 0, length = 0] of others) {
    for (const mark of marks(at, length)) {
      for (const own of marks(...mine)) {
        const by = mark - own;
        if (Math.abs(by) <= near && (!best || Math.abs(by) < Math.abs(best.by))) best = { by, at: mark };
      }
    }
  }
  return best;
}

/** The distances to the nearest box on each side that it overlaps along the other axis. */
function gaps(box: Box, others: Box[]): Guide[] {
  const guides: Guide[] = [];
  const beside = others.filter((other) => other.y < box.y + box.h && box.y < other.y + other.h);
  const stacked = others.filter((other) => other.x < box.x + box.w && box.x < other.x + other.w);
  const shortest = (found: Guide[]) => found.sort((a, b) => (a.gap ?? 0) - (b.gap ?? 0))[0];
  const middle = (a: number, la: number, b: number, lb: number) =>
    (Math.max(a, b) + Math.min(a + la, b + lb)) / 2;
  const found = [
    beside
      .filter((other) => other.x + other.w <= box.x)
      .map((other) => horizontal(other.x + other.w, box.x, other)),
    beside
      .filter((other) => other.x >= box.x + box.w)
      .map((other) => horizontal(box.x + box.w, other.x, other)),
    stacked
      .filter((other) => other.y + other.h <= box.y)
      .map((other) => vertical(other.y + other.h, box.y, other)),
    stacked
      .filter((other) => other.y >= box.y + box.h)
      .map((other) => vertical(box.y + box.h, other.y, other)),
  ];
  function horizontal(from: number, to: number, other: Box): Guide {
    const y = middle(box.y, box.h, other.y, other.h);
    return { from: [from, y], to: [to, y], gap: to - from };
  }
  function vertical(from: number, to: number, other: Box): Guide {
    const x = middle(box.x, box.w, other.x, other.w);
    return { from: [x, from], to: [x, to], gap: to - from };
  }
  for (const side of found) {
    const guide = shortest(side);
    if (guide?.gap) guides.push(guide);
  }
  return guides;
}
