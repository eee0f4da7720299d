import type { Schemas } from '../../core/client';
import { askAtOnce } from '../../core/core';

type Offset = Schemas['Offset'];
type Keys = { altKey: boolean };

/** An offset whose shadow is dragged to (x, y), in the form it had; with Alt it is drawn to nothing. */
export function draggedOffset(
  offset: Offset,
  { bearing }: { bearing: number },
  [x, y]: [number, number],
  lights: { bearing: number }[],
  scale: number,
  { altKey }: Keys,
): Promise<Offset> {
  const bearings = lights.map((light) => light.bearing);
  return askAtOnce('/api/drag/offset', { offset, bearing, x, y, lights: bearings, scale, fine: altKey });
}

/** The bearing towards (x, y), drawn to round ones and to lights; with Alt in tenths. */
export function draggedBearing(
  [x, y]: [number, number],
  lights: { bearing: number }[],
  { altKey }: Keys,
): Promise<number> {
  const precision = altKey ? 'tenths' : 'near';
  return askAtOnce('/api/drag/bearing', { x, y, lights: lights.map((light) => light.bearing), precision });
}
