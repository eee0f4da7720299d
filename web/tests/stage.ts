/** What the stage decides by itself while something is dragged on it. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { test } from 'node:test';
import { type Box, placeOf } from '../src/bench/stage/tagPlace';
import { workOut } from '../src/parts/sums';
import { chance } from './chance';

const box = (x: number, y: number, w = 100, h = 60): Box => ({ x, y, w, h });

test('tags stand above what they are about, or where they fit and cover the least', () => {
  const stage = { x: 0, y: 0, w: 800, h: 600 };
  const tags = { w: 120, h: 24 };
  const about = { x: 300, y: 300, w: 200, h: 100 };
  const place = (others: Box[], of = about) => {
    const { x, y } = placeOf(tags, of, others, stage);
    return [x, y];
  };
  assert.deepEqual(place([]), [300, 270]);
  assert.deepEqual(place([{ x: 280, y: 260, w: 100, h: 40 }]), [380, 270], 'at the other corner');
  const above = { x: 0, y: 0, w: 800, h: 299 };
  assert.deepEqual(place([above]), [300, 406], 'below');
  assert.deepEqual(place([above, { x: 0, y: 401, w: 800, h: 199 }]), [506, 338], 'beside it');
  assert.deepEqual(place([], { x: 0, y: 0, w: 800, h: 600 }).map(Number.isFinite), [true, true]);
});

test('tags never leave the stage, and never cover what they are about where there is room elsewhere', () => {
  const below = chance(11);
  const stage = { x: 20, y: 10, w: 800, h: 600 };
  for (let turn = 0; turn < 2000; turn += 1) {
    const tags = { w: 40 + below(200), h: 24 };
    const about = { x: 20 + below(500), y: 10 + below(400), w: 10 + below(200), h: 10 + below(150) };
    const others = Array.from({ length: below(4) }, () => box(below(800), below(600)));
    const { x, y } = placeOf(tags, about, others, stage);
    assert.ok(x >= 20 && y >= 10 && x + tags.w <= 820 && y + tags.h <= 610, JSON.stringify({ x, y, tags }));
    const alone = placeOf(tags, about, [], stage);
    const covers =
      alone.x < about.x + about.w &&
      about.x < alone.x + tags.w &&
      alone.y < about.y + about.h &&
      about.y < alone.y + tags.h;
    const room = about.y - 10 >= 30 || 610 - about.y - about.h >= 30;
    assert.ok(!covers || !room, JSON.stringify({ about, alone }));
  }
});

test('numbers are read as people write them, and nothing that is none', () => {
  const cases: [string, number | null][] = [
    ['12*1.5', 18],
    ['(2+3)*4', 20],
    ['-4', -4],
    ['1,5', 1.5],
    [',5', 0.5],
    ['1,000', 1000],
    ['1,000.5', 1000.5],
    ['1.000,5', 1000.5],
    ['1 000', 1000],
    ["1'000", 1000],
    ['0,125', 0.125],
    ['10/4', 2.5],
    ['1/0', null],
    ['', null],
    ['--', null],
    ['2**3', null],
    ['2^3', null],
    ['alert(1)', null],
    ['1e9999', null],
    ['constructor', null],
  ];
  for (const [typed, value] of cases) assert.equal(workOut(typed), value, typed);
});
