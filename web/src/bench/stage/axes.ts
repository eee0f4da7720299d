/** Two axes on the scene, as the core gives them. */
type Axes = number[][];

/** A way on the scene along the two axes of a handle or piece. */
export function along([first, second]: Axes, dx: number, dy: number): [number, number] {
  const by = (axis: number[] | undefined) => dx * (axis?.[0] ?? 0) + dy * (axis?.[1] ?? 0);
  return [by(first), by(second)];
}

/** The way on the scene that is so far along the two axes. */
export function onScene([first, second]: Axes, x: number, y: number): [number, number] {
  const of = (i: number) => x * (first?.[i] ?? 0) + y * (second?.[i] ?? 0);
  return [of(0), of(1)];
}
