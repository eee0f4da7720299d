/** Drags offsets by chance and prints each with its result as a line of JSON: `orders` compares them with the core. */

import './browser';

import { moved } from '../src/bench/stage/offsets';
import { chance } from './chance';

const next = chance(7);
const between = (low: number, high: number) => low + next((high - low) * 1000) / 1000;

for (let at = 0; at < 2000; at += 1) {
  const light = { id: 'sun', bearing: Math.round(between(0, 359)) };
  const [x, y] = [between(-80, 80), between(-80, 80)];
  const distance = Math.round(between(-60, 60)) || 1;
  const offsets = [
    { distance, follows: 'sun' },
    { distance, bearing: Math.round(between(0, 359)) },
  ];
  const offset = offsets[at % 2] as Parameters<typeof moved>[0];
  const bearing = 'bearing' in offset ? offset.bearing : light.bearing;
  const start = { x: 0, y: 0, distance, bearing };
  const scale = between(0.5, 4);
  const found = moved(offset, start, [x, y], [light], scale, { altKey: false });
  console.log(JSON.stringify({ light: light.bearing, to: [x, y], found }));
}
