/** What the session of a project decides by itself. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { test } from 'node:test';
import { applyPatch, type Operation } from 'rfc6902';
import { changesBetween } from '../src/core/changes';
import type { Coat, Piece, Project, Schemas } from '../src/core/client';
import { limits } from '../src/core/constants';
import { differencesOf } from '../src/session/differences';
import { noHistory, redone, stepBetween, undone, withStep } from '../src/session/history';
import { layerOf } from '../src/session/layers';
import { tooMuch } from '../src/session/limits';
import { copyName, freeName } from '../src/session/names';
import { deedOf } from '../src/session/naming';
import { rebased } from '../src/session/rebase';
import { usesOf } from '../src/session/references';
import { duplicateScene, removeScene } from '../src/session/scenes';
import { edit, open, redo, undo, useDocument } from '../src/session/store';
import { addTheme, removeTheme } from '../src/session/themes';
import { chance } from './chance';

const coat = (id: string, more = {}) =>
  ({
    id,
    name: id.toUpperCase(),
    on: true,
    kind: 'drop',
    offset: { x: 0, y: 1 },
    blur: 2,
    spread: 0,
    colour: '#000000',
    ...more,
  }) as unknown as Coat;

const piece = (id: string, coats: Coat[] = []) =>
  ({
    id,
    name: id.toUpperCase(),
    shape: { kind: 'box', w: 9, h: 9, radii: 0 },
    x: 0,
    y: 0,
    fill: { kind: 'solid', colour: '#ffffff' },
    wear: { coats },
  }) as unknown as Piece;

const finish = (id: string, coats: Coat[] = [], more = {}) =>
  ({ id, name: id.toUpperCase(), note: '', coats, ...more }) as Schemas['Finish'];

const project = (more: Partial<Project> = {}): Project =>
  ({
    schema: 3,
    name: 'P',
    themes: [{ id: 't', name: 'Day', scheme: 'light' }],
    scenes: [scene('s', [piece('a', [coat('c')]), piece('b')])],
    finishes: [finish('f', [coat('d'), coat('e')])],
    lights: [{ id: 'l', name: 'Sun', bearing: 0 }],
    swatches: [{ id: 'w', name: 'Leaf', values: { t: '#008000' } }],
    ...more,
  }) as Project;

const scene = (id: string, pieces: Piece[]) =>
  ({
    id,
    name: id.toUpperCase(),
    width: 9,
    height: 9,
    theme: 't',
    ground: { kind: 'none' },
    pieces,
  }) as Project['scenes'][0];

/** The document after a change in the store, which keeps what did not change the same object. */
function changed(before: Project, change: (draft: Project) => void): Project {
  open('p', before);
  edit(change);
  return useDocument.getState().document as Project;
}

const first = <T>(list: T[] | null | undefined): T => (list as T[])[0] as T;

test('a name that is taken gets a number, a copy says that it is one, and both are as long as names may be', () => {
  const taken = ['Card', 'Card 2', 'Card 4'].map((name) => ({ name }));
  assert.equal(freeName('Tile', taken), 'Tile');
  assert.equal(freeName('Card', taken), 'Card 3');
  assert.equal(copyName('Card'), 'Card copy');
  const long = 'x'.repeat(limits.nameCharacters);
  assert.equal(freeName(long, [{ name: long }]).length, limits.nameCharacters);
  assert.ok(freeName(long, [{ name: long }]).endsWith('x 2'));
});

test('a name is cut between characters', () => {
  const leaves = '🌿'.repeat(limits.nameCharacters);
  for (const name of [copyName(leaves), freeName(leaves, [{ name: leaves }]), copyName(`x${leaves}`)]) {
    assert.ok(name.isWellFormed(), name);
    assert.equal([...name].length, limits.nameCharacters);
  }
});

test('a step is called what was done in it', () => {
  const before = project();
  const cases: [(draft: Project) => void, string, string?][] = [
    [(draft) => draft.scenes[0]?.pieces.push(piece('n')), 'Add “N”'],
    [(draft) => draft.scenes[0]?.pieces.pop(), 'Remove “B”', 'Removed “B”.'],
    [(draft) => draft.scenes[0]?.pieces.splice(0), 'Remove 2 pieces', 'Removed 2 pieces.'],
    [(draft) => draft.scenes[0]?.pieces.reverse(), 'Reorder pieces'],
    [(draft) => draft.scenes[0]?.pieces.splice(1, 1, piece('n')), 'Replace pieces'],
    [(draft) => Object.assign(first(draft.scenes[0]?.pieces), { x: 4 }), 'Move “A”'],
    [
      (draft) =>
        Object.assign(first(draft.scenes[0]?.pieces), { y: 4, shape: { kind: 'ellipse', w: 1, h: 1 } }),
      'Resize “A”',
    ],
    [(draft) => Object.assign(first(draft.scenes[0]?.pieces), { wear: { finish: 'f' } }), '“A”: finish'],
    [(draft) => Object.assign(first(draft.finishes), { name: 'Lid' }), 'Rename “Lid”'],
    [(draft) => Object.assign(first(first(draft.finishes).coats), { on: false }), '“D” off'],
    [
      (draft) => Object.assign(first(first(draft.finishes).coats), { blur: 4, blend: 'screen' }),
      '“D”: blur, blend',
    ],
    [(draft) => Object.assign(first(draft.finishes), { themes: { t: [] } }), 'Own coats for a theme in “F”'],
    [(draft) => Object.assign(first(draft.lights), { bearing: 9 }), '“Sun”: angle'],
    [(draft) => Object.assign(draft, { name: 'Q' }), 'Name the project “Q”'],
    [(draft) => Object.assign(draft, { scale: ['f'] }), 'Height scale'],
  ];
  for (const [change, name, removed] of cases) {
    open('p', before);
    edit(change);
    const deed = deedOf(before, useDocument.getState().document as Project);
    assert.deepEqual([deed.name, deed.removed], [name, removed]);
  }
});

test('steps are taken back and done again one by one or many at once, and the oldest are forgotten', () => {
  const at = { scene: null, piece: null };
  let history = noHistory;
  const states = Array.from({ length: 231 }, (_, number) => project({ name: `Version ${number}` }));
  states.slice(1).forEach((after, number) => {
    history = withStep(history, stepBetween(states[number] as Project, after, at));
  });
  assert.equal(history.past.length, 200);
  const [back, step] = undone(history, 7);
  assert.equal(step?.before.name, 'Version 223');
  const [again, last] = redone(back, 3);
  assert.equal(last?.after.name, 'Version 226');
  assert.deepEqual([again.past.length, again.future.length], [196, 4]);
  assert.equal(
    withStep(again, step as never).future.length,
    0,
    'what was taken back is gone after something new',
  );
  const [none, nothing] = undone(noHistory, 1);
  assert.deepEqual([none, nothing], [noHistory, undefined]);
});

test('undo and redo come to the same document', () => {
  const before = project();
  open('p', before);
  edit((draft) => void draft.scenes[0]?.pieces.push(piece('n')));
  edit((draft) => Object.assign(draft, { name: 'Q' }));
  const after = useDocument.getState().document;
  undo();
  undo();
  assert.deepEqual(useDocument.getState().document, before);
  redo();
  redo();
  assert.deepEqual(useDocument.getState().document, after);
});

test('more than a document may hold is refused, and only what changed is looked at', () => {
  const many = Array.from({ length: limits.coats + 1 }, (_, number) => coat(`c${number}`));
  const before = project();
  assert.equal(tooMuch(before, before), null);
  assert.match(tooMuch(before, project({ finishes: [finish('g', many)] })) ?? '', /64/);
  assert.match(
    tooMuch(before, project({ finishes: [finish('g', [], { states: { hover: many } })] })) ?? '',
    /64/,
  );
  assert.match(tooMuch(before, project({ scenes: [scene('s', [piece('a', many)])] })) ?? '', /64/);
  const pieces = Array.from({ length: limits.pieces + 1 }, (_, number) => piece(`p${number}`));
  assert.match(
    tooMuch(before, project({ scenes: [scene('s', pieces)] })) ?? '',
    new RegExp(`${limits.pieces}`),
  );
  const long = '🌿'.repeat(limits.nameCharacters);
  assert.equal(tooMuch(before, { ...before, name: long }), null);
  assert.match(tooMuch(before, { ...before, name: `${long}x` }) ?? '', /name/);
  open('p', before);
  edit((draft) => Object.assign(draft, { name: `${long}x` }));
  assert.equal(useDocument.getState().document?.name, 'P', 'nothing of it is done');
  // What was too long before is no reason to refuse something else.
  const full = project({ finishes: [finish('g', many)] });
  assert.equal(tooMuch(full, { ...full, name: 'Q' }), null);
});

test('uses of a swatch and of a light are counted wherever they are, and again after a change', () => {
  const leaf = { swatch: 'w' };
  const before = project({
    finishes: [finish('f', [coat('d', { colour: leaf, offset: { distance: 3, follows: 'l' } })])],
    scenes: [
      {
        ...scene('s', [piece('a', [coat('c', { colour: leaf })])]),
        ground: { kind: 'solid', colour: leaf },
      } as never,
    ],
  });
  assert.deepEqual(
    [usesOf(before, 'swatch', 'w'), usesOf(before, 'follows', 'l'), usesOf(before, 'swatch', 'l')],
    [3, 1, 0],
  );
  const after = changed(before, (draft) => Object.assign(first(draft.scenes).ground, { colour: '#ffffff' }));
  assert.deepEqual([usesOf(after, 'swatch', 'w'), usesOf(before, 'swatch', 'w')], [2, 3]);
});

test('two versions are told apart by what they hold', () => {
  const before = project();
  const after = changed(before, (draft) => {
    first(draft.finishes).coats.pop();
    draft.finishes?.push(finish('g'));
    draft.lights = [];
    draft.scale = ['f'] as never;
  });
  assert.deepEqual(
    differencesOf(before, after).map(({ says, finish }) => [says, finish]),
    [
      ['Finish “F” was changed since', 'f'],
      ['Finish “G” is new since', undefined],
      ['Light “Sun” was removed since', undefined],
      ['The project’s name, scale, pictures or accepted findings', undefined],
    ],
  );
  assert.deepEqual(differencesOf(before, structuredClone(before)), []);
});

test('every kind of coat has its layer', () => {
  const layers = Object.entries({
    on: ['inner', 'tint', 'highlight', 'stroke', 'blur'],
    under: ['drop', 'extrude', 'cast'],
    behind: ['backdrop'],
  });
  for (const [layer, kinds] of layers) {
    for (const kind of kinds) assert.equal(layerOf(coat('c', { kind })), layer, kind);
  }
  assert.equal(layerOf(coat('c', { kind: 'ramp', shadow: 'drop' })), 'under');
  assert.equal(layerOf(coat('c', { kind: 'ramp', shadow: 'inner' })), 'on');
});

test('a theme begins as another is, and takes what differed in it along when it goes', () => {
  const night = coat('n');
  const before = project({ finishes: [finish('f', [coat('d')], { themes: { t: [night] } })] });
  open('p', before);
  addTheme('t');
  const { document } = useDocument.getState();
  const added = document?.themes[1] as Schemas['Theme'];
  assert.equal(added.scheme, 'light');
  assert.deepEqual((first(document?.swatches).values as Record<string, string>)[added.id], '#008000');
  assert.deepEqual(first(document?.finishes).themes?.[added.id], [night]);
  removeTheme('t');
  const after = useDocument.getState().document;
  assert.deepEqual(
    after?.themes.map(({ id }) => id),
    [added.id],
  );
  assert.equal(first(after?.scenes).theme, added.id);
  assert.deepEqual(Object.keys(first(after?.swatches).values), [added.id]);
  removeTheme(added.id);
  assert.equal(useDocument.getState().document?.themes.length, 1, 'one theme stays');
});

test('a scene is copied behind itself, and another is shown when it goes', () => {
  open('p', project());
  duplicateScene();
  const { document, scene: shown } = useDocument.getState();
  assert.deepEqual(
    document?.scenes.map(({ name }) => name),
    ['S', 'S copy'],
  );
  assert.equal(shown, document?.scenes[1]?.id);
  removeScene();
  assert.equal(useDocument.getState().scene, 's');
  removeScene();
  assert.equal(useDocument.getState().document?.scenes.length, 1, 'one scene stays');
});

/** One of the things that people do to a document. */
function anything(draft: Project, of: (below: number) => number) {
  const scenes = draft.scenes;
  const { pieces } = scenes[of(scenes.length)] as Project['scenes'][0];
  const at = of(pieces.length + 1);
  const some = pieces[Math.min(at, pieces.length - 1)];
  const steps = [
    () => pieces.splice(at, 0, piece(`p${of(1e6)}`)),
    () => pieces.splice(at, 1),
    () => pieces.splice(at, 2, piece(`q${of(1e6)}`)),
    () => pieces.reverse(),
    () => some && Object.assign(some, { x: of(100), name: `a/b~${of(9)}` }),
    () => some && Object.assign(some, { wear: { coats: [coat(`c${of(99)}`)] } }),
    () => some && 'coats' in some.wear && some.wear.coats.push(coat(`d${of(99)}`)),
    () => some && delete (some as Partial<Piece>).y,
    () => scenes.splice(of(scenes.length), 0, scene(`s${of(1e6)}`, [piece(`p${of(1e6)}`)])),
    () => scenes.length > 1 && scenes.splice(of(scenes.length), 1),
    () => Object.assign(first(draft.swatches).values, { [`t~/${of(3)}`]: '#000000' }),
  ];
  steps[of(steps.length)]?.();
}

test('what changed is told so that it makes the one document from the other', () => {
  for (let seed = 1; seed <= 500; seed += 1) {
    const of = chance(seed);
    const before = project();
    const after = changed(before, (draft) => {
      for (let steps = 1 + of(4); steps > 0; steps -= 1) anything(draft, of);
    });
    const made = structuredClone(before);
    const failures = applyPatch(made, structuredClone(changesBetween(before, after)) as Operation[]);
    assert.deepEqual(failures.filter(Boolean), [], `seed ${seed}`);
    assert.deepEqual(made, after, `seed ${seed}`);
    assert.deepEqual(changesBetween(after, after), []);
  }
});

test('a change that was found for one document is made to another in which things lie elsewhere', () => {
  const before = project();
  const patch: Operation[] = [
    { op: 'replace', path: '/scenes/0/pieces/1/name', value: 'Lid' },
    { op: 'add', path: '/finishes/0/coats/1', value: coat('n') },
  ];
  const moved = changed(before, (draft) => {
    draft.scenes.unshift(scene('r', []));
    draft.scenes[1]?.pieces.unshift(piece('z'));
  });
  const after = rebased(patch, before, moved);
  assert.deepEqual(
    after?.scenes[1]?.pieces.map(({ name }) => name),
    ['Z', 'A', 'Lid'],
  );
  assert.deepEqual(
    first(after?.finishes).coats.map(({ id }) => id),
    ['d', 'n', 'e'],
  );
  assert.deepEqual(moved.scenes[1]?.pieces[2]?.name, 'B', 'the other document is left as it was');
  const without = changed(before, (draft) => void draft.scenes[0]?.pieces.pop());
  assert.equal(rebased(patch, before, without), null, 'what it is about is gone');
  assert.equal(rebased([{ op: 'test', path: '/name', value: 'Q' }], before, before), null);
});
