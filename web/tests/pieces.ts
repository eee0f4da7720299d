/** What commands on pieces, coats and alternatives leave behind. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { beforeEach, test } from 'node:test';
import type { Coat, Piece, Project } from '../src/core/client';
import { addAlternative, chooseAlternative, triedOf } from '../src/session/alternatives';
import { accept, acceptNoMore, takeFix, withFix } from '../src/session/checks';
import { chooseAlso, choosePiece, choosePieces, chosenPieces, tickCoat } from '../src/session/choice';
import { addCoat, clearStack, duplicateCoat, moveCoat, removeCoats } from '../src/session/coats';
import { controlOf, onlyScene, shownState, stackIn } from '../src/session/lookup';
import {
  addPiece,
  addPieceAt,
  duplicatePiece,
  editPieces,
  removePieces,
  shiftPiece,
} from '../src/session/pieces';
import { seenIn } from '../src/session/seen';
import { makeItsOwn, ownState } from '../src/session/stacks';
import { open, undo, useDocument } from '../src/session/store';
import { pathTo } from '../src/session/tree';

const coat = (id: string, kind = 'drop') =>
  ({
    id,
    name: id,
    on: true,
    kind,
    offset: { x: 0, y: 1 },
    blur: 2,
    spread: 0,
    colour: '#000',
  }) as unknown as Coat;

const piece = (id: string, more: Partial<Piece> = {}) =>
  ({
    id,
    name: id,
    shape: { kind: 'box', w: 100, h: 50, radii: 0 },
    x: 10,
    y: 20,
    fill: { kind: 'solid', colour: '#fff' },
    wear: { coats: [] },
    ...more,
  }) as Piece;

function opened(pieces: Piece[], more: Partial<Project> = {}) {
  const scene = {
    id: 's',
    name: 'S',
    width: 600,
    height: 400,
    theme: 'day',
    ground: { kind: 'none' },
    pieces,
  };
  open('p', {
    schema: 3,
    name: 'P',
    themes: [
      { id: 'day', name: 'Day', scheme: 'light' },
      { id: 'dusk', name: 'Dusk', scheme: 'dark' },
    ],
    scenes: [scene, { ...scene, id: 't', name: 'T', pieces: [] }],
    ...more,
  } as unknown as Project);
}

const shown = () => useDocument.getState().document as Project;
const pieces = () => shown().scenes[0]?.pieces ?? [];
const names = () => pieces().map((one) => one.name);
const find = (id: string) => pieces().find((one) => one.id === id) as Piece;
const coats = (id: string) => {
  const { wear } = find(id);
  return 'coats' in wear ? wear.coats.map((one) => one.name) : [];
};

beforeEach(() => choosePiece(null));

test('a new piece lies in the middle, on top, has a name of its own, and is chosen', () => {
  opened([piece('Box')]);
  addPiece('Box', { kind: 'box', w: 101, h: 50 }, { w: 101, h: 50 }, { kind: 'none' });
  const [, added] = pieces();
  assert.deepEqual([added?.name, added?.x, added?.y], ['Box 2', 250, 175]);
  assert.deepEqual(chosenPieces(), [added?.id]);
});

test('a piece put into another scene leaves what is chosen alone', () => {
  opened([piece('a')]);
  choosePiece('a');
  addPieceAt('b', { kind: 'box', w: 9, h: 9 }, { x: 1, y: 2 }, { kind: 'none' }, 't');
  assert.deepEqual([names(), shown().scenes[1]?.pieces.length], [['a'], 1]);
  assert.deepEqual(chosenPieces(), ['a']);
});

test('a copy lies right above what it is of, beside it, and is its own', () => {
  opened([piece('a', { wear: { coats: [coat('c')] } }), piece('b')]);
  duplicatePiece(find('a'));
  assert.deepEqual(names(), ['a', 'a 2', 'b']);
  const copy = pieces()[1] as Piece;
  assert.deepEqual([copy.x, copy.y], [26, 36]);
  addCoat(coat('d'));
  assert.deepEqual([coats('a'), coats(copy.id).length], [['c'], 2]);
});

test('what was clipped to a removed piece, or tried in its place, is so no more', () => {
  opened([
    piece('a'),
    piece('b', { clip_to: 'a' }),
    piece('c', { alternative_of: 'a' }),
    piece('d', { clip_to: 'b' }),
  ]);
  removePieces(['a']);
  assert.deepEqual(names(), ['b', 'c', 'd']);
  assert.deepEqual([find('b').clip_to, find('c').alternative_of, find('d').clip_to], [null, null, 'b']);
  undo();
  assert.deepEqual([names().length, find('b').clip_to], [4, 'a']);
  removePieces([]);
  assert.equal(names().length, 4);
});

test('a piece goes up and down among the others, and no further than the ends', () => {
  opened([piece('a'), piece('b'), piece('c')]);
  shiftPiece('a', 1);
  assert.deepEqual(names(), ['b', 'a', 'c']);
  shiftPiece('c', 1);
  shiftPiece('b', -1);
  shiftPiece('nobody', 1);
  assert.deepEqual(names(), ['b', 'a', 'c']);
});

test('several pieces change alike, in one step', () => {
  opened([piece('a'), piece('b'), piece('c')]);
  const before = useDocument.getState().past.length;
  editPieces(['a', 'c'], (one) => {
    one.x += 5;
  });
  assert.deepEqual(
    pieces().map((one) => one.x),
    [15, 10, 15],
  );
  assert.equal(useDocument.getState().past.length, before + 1);
});

test('pieces are chosen one by one, together, and let go of again', () => {
  opened([piece('a'), piece('b'), piece('c')]);
  chooseAlso('a');
  chooseAlso('b');
  chooseAlso('c');
  assert.deepEqual(chosenPieces(), ['a', 'b', 'c']);
  chooseAlso('a');
  assert.deepEqual(chosenPieces(), ['b', 'c'], 'the next one leads');
  chooseAlso('c');
  assert.deepEqual(chosenPieces(), ['b']);
  choosePieces(['c', 'a']);
  assert.deepEqual(chosenPieces(), ['c', 'a']);
  choosePieces([]);
  assert.deepEqual(chosenPieces(), []);
});

test('a coat goes to the top of its band, opens, and moves past its neighbours of that band only', () => {
  opened([
    piece('a', {
      wear: { coats: [coat('in', 'inner'), coat('near'), coat('far'), coat('glass', 'backdrop')] },
    }),
  ]);
  choosePiece('a');
  addCoat({ ...coat('x'), name: 'new' });
  assert.deepEqual(coats('a'), ['in', 'new', 'near', 'far', 'glass']);
  const added = useDocument.getState().coat as string;
  assert.ok(added !== 'x', 'an id of its own');
  moveCoat(added, 1);
  assert.deepEqual(coats('a'), ['in', 'near', 'new', 'far', 'glass']);
  moveCoat('far', 1);
  moveCoat('near', -1);
  moveCoat('in', 1);
  moveCoat('glass', -1);
  assert.deepEqual(coats('a'), ['in', 'near', 'new', 'far', 'glass']);
  duplicateCoat('far', 'far');
  assert.deepEqual(coats('a'), ['in', 'near', 'new', 'far copy', 'far', 'glass']);
});

test('what is removed is neither open nor ticked any more', () => {
  opened([
    piece('a', { wear: { coats: [coat('c'), coat('d'), coat('e')] } }),
    piece('b', { wear: { coats: [coat('f')] } }),
  ]);
  choosePieces(['a', 'b']);
  tickCoat('c');
  tickCoat('d');
  tickCoat('c');
  assert.deepEqual(useDocument.getState().ticked, ['d']);
  removeCoats(['d', 'e']);
  assert.deepEqual([coats('a'), useDocument.getState().ticked], [['c'], []]);
  clearStack();
  assert.deepEqual([coats('a'), coats('b')], [[], []], 'of every chosen piece');
  undo();
  assert.deepEqual([coats('a'), coats('b')], [['c'], ['f']]);
});

test('a state begins as at rest, is changed by itself, and is seen where it is looked at', () => {
  opened([piece('a', { wear: { coats: [coat('c')] } })]);
  choosePiece('a');
  assert.equal(stackIn(shown(), find('a'), 'pressed', 'day'), null);
  ownState('pressed', true);
  assert.deepEqual(stackIn(shown(), find('a'), 'pressed', 'day')?.length, 1);
  useDocument.setState({ state: 'hover' });
  addCoat(coat('x'));
  assert.deepEqual([coats('a').length, stackIn(shown(), find('a'), 'hover', 'day')?.length], [1, 2]);
  const seen = seenIn(useDocument.getState());
  assert.equal(seen, seenIn(useDocument.getState()), 'the same object while nothing changes');
  assert.equal(seen?.scenes[0]?.pieces[0]?.shows, 'hover');
  useDocument.setState({ state: 'rest' });
  assert.equal(seenIn(useDocument.getState()), shown());
  ownState('pressed', false);
  ownState('rest', true);
  assert.deepEqual(Object.keys(find('a').states ?? {}), ['hover']);
});

test('a part is looked at in the state of its control, and so are the parts beside it', () => {
  const inside = piece('face', { states: { pressed: [coat('p')] } });
  const shape = { kind: 'group', parts: [inside, piece('label', {})] } as Piece['shape'];
  opened([piece('button', { shape, control: true }), piece('other', {})]);
  choosePiece('label');
  assert.equal(controlOf(shown(), shown().scenes[0], 'label')?.id, 'button');
  assert.deepEqual(
    pathTo(shown().scenes[0]?.pieces ?? [], 'label').map(({ id }) => id),
    ['button', 'label'],
  );
  useDocument.setState({ state: 'pressed' });
  const seen = seenIn(useDocument.getState())?.scenes[0];
  assert.equal(seen?.pieces[0]?.shows, 'pressed');
  assert.equal(seen?.pieces[1], shown().scenes[0]?.pieces[1], 'nothing else is another');
  assert.equal(shownState(seen, 'label'), 'pressed');
  removePieces(['label', 'face']);
  assert.deepEqual(
    shown().scenes[0]?.pieces.map(({ id }) => id),
    ['other'],
    'a group without parts goes',
  );
});

test('own coats are those of the finish under the theme that is looked at, with its states', () => {
  const finish = {
    id: 'f',
    name: 'F',
    note: '',
    coats: [coat('day')],
    themes: { dusk: [coat('dusk1'), coat('dusk2')] },
    states: { hover: [coat('h')] },
  };
  opened([piece('a', { wear: { finish: 'f' } }), piece('b', { wear: { finish: 'f' } })], {
    finishes: [finish],
  } as never);
  choosePiece('a');
  makeItsOwn();
  assert.deepEqual([coats('a'), Object.keys(find('a').states ?? {})], [['day'], ['hover']]);
  assert.deepEqual(find('b').wear, { finish: 'f' });
  addCoat(coat('x'));
  assert.equal(shown().finishes?.[0]?.coats.length, 1, 'the finish stays as it was');
});

test('of what is tried in the place of a piece, the one that is kept takes its name and place', () => {
  opened([piece('a'), piece('on', { clip_to: 'a' })]);
  addAlternative(find('a'), { w: 100, h: 50 });
  const second = pieces().find((one) => one.alternative_of === 'a') as Piece;
  assert.deepEqual([second.x, second.y], [142, 20], 'beside it');
  assert.equal(chosenPieces()[0], second.id);
  addAlternative(find(second.id), { w: 400, h: 50 });
  const third = pieces().find((one) => one.alternative_of === 'a' && one.id !== second.id) as Piece;
  assert.deepEqual([third.x, third.y], [142, 102], 'below, where there is no room beside it');
  const scene = shown().scenes[0];
  assert.deepEqual(
    scene &&
      triedOf(scene, third)
        .map((one) => one.id)
        .toSorted(),
    ['a', second.id, third.id].toSorted(),
  );
  choosePiece(second.id);
  addCoat(coat('kept'));
  chooseAlternative(find(second.id));
  assert.deepEqual(names(), ['a', 'on']);
  assert.deepEqual(
    [coats('a'), find('a').x, find('a').alternative_of, find('on').clip_to],
    [['kept'], 10, null, 'a'],
  );
  assert.deepEqual(chosenPieces(), ['a']);
});

test('one scene alone brings the finishes that are worn in it, by parts of joins as well', () => {
  const finish = (id: string) => ({ id, name: id, note: '', coats: [] });
  const join = {
    kind: 'join',
    op: 'add',
    rounding: 0,
    parts: [piece('part', { wear: { finish: 'inner' } })],
  };
  opened([piece('a', { wear: { finish: 'f' } }), piece('j', { shape: join as never })], {
    finishes: [finish('f'), finish('inner'), finish('unused')],
    scale: ['f'],
  } as never);
  const alone = onlyScene(shown(), 's');
  assert.deepEqual(
    alone.finishes?.map((one) => one.id),
    ['f', 'inner'],
  );
  assert.deepEqual([alone.scenes.length, alone.scale], [1, []]);
  assert.deepEqual(onlyScene(shown(), 't').finishes, []);
});

test('a fix found in an earlier document is made to the piece it is about, wherever that lies now', () => {
  opened([piece('a'), piece('b')]);
  const found = shown();
  const fix = { patch: [{ op: 'replace', path: '/scenes/0/pieces/1/x', value: 99 }] } as never;
  shiftPiece('b', -1);
  assert.deepEqual(
    withFix(shown(), fix, found).scenes[0]?.pieces.map((one) => one.x),
    [99, 10],
  );
  assert.ok(takeFix(fix, found));
  assert.deepEqual([find('b').x, find('a').x], [99, 10]);
  undo();
  assert.equal(find('b').x, 10);
  removePieces(['b']);
  const before = shown();
  assert.equal(takeFix(fix, found), false);
  assert.equal(shown(), before, 'nothing is changed');
  assert.equal(withFix(before, fix, found), before);
});

test('a finding that is accepted is so with its reason, until it is not', () => {
  opened([]);
  accept('f1', 'meant so');
  accept('f2', '');
  assert.deepEqual(shown().accepted, [
    { finding: 'f1', note: 'meant so' },
    { finding: 'f2', note: '' },
  ]);
  acceptNoMore('f1');
  assert.deepEqual(shown().accepted, [{ finding: 'f2', note: '' }]);
});
