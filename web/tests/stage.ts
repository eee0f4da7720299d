/** What the stage decides by itself while something is dragged on it. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { test } from 'node:test';
import { held, moved } from '../src/bench/stage/offsets';
import { type Box, snapped } from '../src/bench/stage/snapping';
import { placeOf } from '../src/bench/stage/tagPlace';
import { workOut } from '../src/parts/sums';
import { chance } from './chance';

const scene = { width: 1000, height: 800 };
const box = (x: number, y: number, w = 100, h = 60): Box => ({ x, y, w, h });
const plain = { altKey: false };
const fine = { altKey: true };

test('a dragged piece goes to the nearest edge or middle that is near, and nowhere else', () => {
  const other = box(300, 200, 200, 100);
  const cases: [string, Box, number, number][] = [
    ['left on left', box(304, 640), 300, 640],
    ['right on left', box(197, 640), 200, 640],
    ['middle on middle', box(347, 640), 350, 640],
    ['top on bottom', box(640, 303), 640, 300],
    ['middle on middle, down', box(640, 222), 640, 220],
    ['the scene: right edge', box(896, 500), 900, 500],
    ['the scene: middle across', box(453, 640), 450, 640],
    ['just near', box(306, 640), 300, 640],
    ['not near', box(307, 640), 307, 640],
  ];
  for (const [what, dragged, x, y] of cases) {
    const placed = snapped(dragged, [other], scene, 6);
    assert.deepEqual([placed.x, placed.y], [x, y], what);
  }
});

test('of two things that are near it goes to the nearer one', () => {
  const placed = snapped(box(302, 500), [box(300, 0), box(303, 100)], scene, 6);
  assert.equal(placed.x, 303);
});

test('what it lines up with is drawn from one end of both to the other', () => {
  const { guides } = snapped(box(302, 640), [box(300, 200, 200, 100)], scene, 6);
  assert.deepEqual(guides[0], { from: [300, 200], to: [300, 700] });
  const alone = snapped(box(4, 333), [], scene, 6);
  assert.deepEqual(alone.guides[0], { from: [0, 0], to: [0, 800] }, 'the scene from edge to edge');
});

test('the distance to the nearest piece on each side that it passes is drawn, and to no other', () => {
  const others = [box(0, 400), box(150, 400), box(700, 400), box(400, 100), box(400, 700), box(900, 0)];
  const { guides } = snapped(box(411, 409), others, scene, 0.5);
  const gaps = guides.filter((guide) => guide.gap !== undefined);
  assert.deepEqual(gaps.map((guide) => guide.gap).toSorted(), [161, 189, 231, 249].toSorted());
  const left = gaps.find((guide) => guide.gap === 161);
  assert.deepEqual(
    [left?.from, left?.to],
    [
      [250, 434.5],
      [411, 434.5],
    ],
  );
});

test('pieces that touch have no distance', () => {
  const { guides } = snapped(box(200, 400), [box(100, 400)], scene, 0.5);
  assert.equal(guides.filter((guide) => guide.gap !== undefined).length, 0);
});

test('wherever it is dragged, it is moved by no more than what is near, and a second time not at all', () => {
  const below = chance(7);
  for (let turn = 0; turn < 2000; turn += 1) {
    const some = () => box(below(1000), below(800), 1 + below(300), 1 + below(200));
    const [dragged, others] = [some(), Array.from({ length: below(6) }, some)];
    const first = snapped(dragged, others, scene, 6);
    assert.ok(Math.abs(first.x - dragged.x) <= 6 && Math.abs(first.y - dragged.y) <= 6);
    const second = snapped({ ...dragged, x: first.x, y: first.y }, others, scene, 6);
    assert.ok(Math.abs(second.x - first.x) < 1e-9 && Math.abs(second.y - first.y) < 1e-9);
  }
});

const both = (x: number, y: number, bearing = 0) => ({ x, y, distance: Math.hypot(x, y), bearing });

test('an offset by x and y is dragged to whole px, or to tenths with Alt, and holds to the axes and the diagonal', () => {
  const to = (x: number, y: number, event = plain, scale = 1) =>
    moved({ x: 1, y: 1 }, both(1, 1), [x, y], [], scale, event);
  assert.deepEqual(to(20.4, 41.6), { x: 20, y: 42 });
  assert.deepEqual(to(20.44, 41.66, fine), { x: 20.4, y: 41.7 });
  assert.deepEqual(to(4, 41), { x: 0, y: 41 }, 'near the axis it is on it');
  assert.deepEqual(to(4, 41, plain, 2), { x: 4, y: 41 }, 'near is meant on the screen');
  assert.deepEqual(to(4, 41, fine), { x: 4, y: 41 }, 'not with Alt');
  assert.deepEqual(to(30, -27), { x: 30, y: -30 }, 'near the diagonal it is on it');
});

test('an offset by distance and bearing keeps that form, and its bearing holds to lights and to multiples of 15°', () => {
  const polar = (distance: number) => ({ distance, bearing: 90 });
  const to = (distance: number, x: number, y: number, lights: { bearing: number }[], event = plain) =>
    moved(polar(distance), both(-distance, 0, 90), [x, y], lights, 1, event);
  // The light stands at the top: the shadow falls straight down.
  assert.deepEqual(to(10, 0, 20, []), { distance: 20, bearing: 0 });
  assert.deepEqual(to(10, 1, 20, []), { distance: 20, bearing: 0 });
  assert.deepEqual(to(10, -20, 0, []), { distance: 20, bearing: 90 });
  const near = to(10, -11.8, 16.2, [{ bearing: 37 }]);
  assert.deepEqual(near, { distance: 20, bearing: 37 }, 'a light is nearer than 30° and 45°');
  const free = to(10, -11.8, 16.2, [{ bearing: 37 }], fine);
  assert.ok('bearing' in free && Math.abs(free.bearing - 36.1) < 0.2, JSON.stringify(free));
  // A negative distance falls towards the light.
  assert.deepEqual(to(-10, 0, 20, []), { distance: -20, bearing: 180 });
});

test('an offset that follows a light is pulled along it, and let go of only when it is pulled well aside', () => {
  const following = { distance: 10, follows: 'sun' };
  const to = (x: number, y: number, scale = 1) =>
    moved(following, both(0, 10, 0), [x, y], [{ bearing: 0 }], scale, plain);
  assert.deepEqual(to(0, 30), { distance: 30, follows: 'sun' });
  assert.deepEqual(to(20, 30), { distance: 30, follows: 'sun' });
  assert.deepEqual(
    to(0, -30),
    { distance: -30, follows: 'sun' },
    'past the piece it falls towards the light',
  );
  assert.deepEqual(to(28, 200), { distance: 200, follows: 'sun' }, 'far out there is more room beside it');
  assert.deepEqual(to(30, 30), { x: 30, y: 30 });
  assert.deepEqual(to(15, 30, 2), { x: 15, y: 30 }, 'aside is meant on the screen');
});

test('a bearing is held where it is within 4° of a light or of a multiple of 15°, on either side of north', () => {
  assert.equal(held(0.4, []), 0);
  assert.equal(held(357, []), 0);
  assert.equal(held(356, []), 356);
  assert.equal(held(48.9, []), 45);
  assert.equal(held(49.4, []), 49);
  assert.equal(held(200.2, [{ bearing: 20 }]), 200, 'the far side of a light');
  assert.equal(held(3, [{ bearing: 2 }]), 2, 'the nearer of two');
  for (let free = 0; free < 360; free += 0.25) {
    const found = held(free, [{ bearing: 37 }]);
    assert.ok(found >= 0 && found < 360 && Number.isInteger(found), `${free}: ${found}`);
    const off = Math.abs(((free - found + 540) % 360) - 180);
    assert.ok(off <= 4, `${free}: ${found}`);
  }
});

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
