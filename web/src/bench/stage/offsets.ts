import type { Schemas } from '../../core/client';
import { interaction } from '../../core/constants';
import { rounded } from '../../parts/drag';

type Offset = Schemas['Offset'];
type Both = Schemas['ResolvedOffset'];

/** An offset whose shadow was dragged to (x, y), in the form it had; bearings hold to multiples of 15° and to lights. */
export function moved(
  offset: Offset,
  start: Both,
  [x, y]: [number, number],
  lights: { bearing: number }[],
  scale: number,
  event: { altKey: boolean },
): Offset {
  if ('follows' in offset) {
    const { along, across } = fall(start.bearing, x, y);
    const holds =
      Math.abs(across) * scale < interaction.follow_px ||
      Math.abs(across) < Math.abs(along) * interaction.follow_share;
    if (holds) return { distance: rounded(along, event), follows: offset.follows };
  }
  if ('bearing' in offset) {
    const turned = offset.distance < 0 ? 180 : 0;
    const free = ((Math.atan2(-x, y) * 180) / Math.PI + turned + 720) % 360;
    const bearing = event.altKey ? rounded(free, event) : held(free, lights);
    return { distance: rounded(fall(bearing, x, y).along, event), bearing };
  }
  const near = (length: number) => !event.altKey && Math.abs(length) * scale < interaction.snap_px;
  const across = near(x) ? 0 : rounded(x, event);
  const down = near(y) ? 0 : rounded(y, event);
  const diagonal = across !== 0 && down !== 0 && near(Math.abs(across) - Math.abs(down));
  return { x: across, y: diagonal ? Math.sign(down) * Math.abs(across) : down };
}

/** The parts of an offset along and across the way a shadow falls under a bearing. */
function fall(bearing: number, x: number, y: number) {
  const radians = (bearing * Math.PI) / 180;
  const [sin, cos] = [Math.sin(radians), Math.cos(radians)];
  return { along: y * cos - x * sin, across: y * sin + x * cos };
}

/** The bearing a free one is held at, or the free one to whole degrees. */
export function held(free: number, lights: { bearing: number }[]): number {
  const magnets = [
    ...lights.flatMap((light) => [light.bearing, light.bearing + 180]),
    Math.round(free / interaction.bearing_step) * interaction.bearing_step,
  ];
  const off = (magnet: number) => Math.abs(((free - magnet + 540) % 360) - 180);
  const nearest = magnets.reduce((best, magnet) => (off(magnet) < off(best) ? magnet : best));
  return (off(nearest) < interaction.bearing_reach ? nearest + 360 : Math.round(free)) % 360;
}
