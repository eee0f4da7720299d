/** What the front end decides by itself, without a page. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { afterEach, test } from 'node:test';
import { formOf } from '../src/bench/forms';
import { withFound } from '../src/check/useAudit';
import { ApiFailure, fetchInTime, type Piece, type Project, Unreachable } from '../src/core/client';
import { LatestRequest } from '../src/core/latestRequest';
import { workOut } from '../src/parts/sums';
import { adopted, referredBy } from '../src/session/adopt';
import { addAsset } from '../src/session/assets';
import { choosePieces, target } from '../src/session/choice';
import { replaceStack } from '../src/session/coats';
import { removeFinish, takeBackFinish, wearers } from '../src/session/finishes';
import { closeSession, openSession, session, useSaving } from '../src/session/session';
import { addSwatch } from '../src/session/shared';
import { edit, open, together, undo, undoerOfLast, useDocument } from '../src/session/store';
import { Service, settled } from './browser';

const shadow = (id: string, more = {}) =>
  ({
    id,
    name: id,
    on: true,
    kind: 'drop',
    offset: { x: 0, y: 1 },
    blur: 2,
    spread: 0,
    colour: '#000000',
    ...more,
  }) as const;

const box = (id: string, wear: Piece['wear']): Piece =>
  ({
    id,
    name: id,
    shape: { kind: 'box', w: 9, h: 9, radii: 0 },
    x: 0,
    y: 0,
    fill: { kind: 'solid', colour: '#ffffff' },
    wear,
  }) as Piece;

const project = (name: string, pieces: Piece[] = [], more: Partial<Project> = {}): Project =>
  ({
    schema: 2,
    name,
    themes: [{ id: 't', name: 'T', scheme: 'light' }],
    scenes: [{ id: 's', name: 'S', width: 9, height: 9, theme: 't', ground: { kind: 'none' }, pieces }],
    ...more,
  }) as Project;

const shown = () => useDocument.getState().document as Project;
const stackOf = (id: string) => {
  const wear = shown().scenes[0]?.pieces.find((piece) => piece.id === id)?.wear;
  return wear && 'coats' in wear ? wear.coats.map((coat) => coat.id) : null;
};

afterEach(() => closeSession());

async function opened(service: Service, id: string, document: Project, revision = 1) {
  service.answer({ id, revision, document });
  await openSession(id);
}

test('an answer for a project that was left changes nothing in the one that is open', async () => {
  const service = new Service();
  await opened(service, 'a', project('A'));
  const answer = service.late();
  const looking = session()?.look();
  await closeSession();
  await opened(service, 'b', project('B'));
  answer({ id: 'a', revision: 7, document: project('A of somebody else') });
  await looking;
  await settled(600);
  assert.equal(shown().name, 'B');
  assert.deepEqual(
    service.asked.filter(({ method }) => method === 'PUT'),
    [],
  );
});

test('taking theirs for a project that was left leaves the open one as it is', async () => {
  const service = new Service();
  await opened(service, 'a', project('A'));
  session()?.hear({ kind: 'changed', theirs: { revision: 2, document: project('Theirs') } });
  const answer = service.late();
  const taking = session()?.takeTheirs();
  await settled();
  const closing = closeSession();
  await opened(service, 'b', project('B'));
  answer({ id: 'copy', revision: 1, document: project('A (mine)') });
  await Promise.all([taking, closing]);
  assert.equal(shown().name, 'B');
});

test('what is changed while it is saved as a new project goes there too', async () => {
  const service = new Service();
  await opened(service, 'a', project('A'));
  session()?.hear({ kind: 'gone' });
  const answer = service.late();
  service.answer({ revision: 2 });
  const saving = session()?.saveAsNew();
  await settled();
  edit((draft) => {
    draft.name = 'A, changed meanwhile';
  });
  answer({ id: 'new', revision: 1, document: project('A') });
  assert.equal(await saving, '/projects/new');
  const last = service.asked.at(-1);
  assert.equal(last?.path, '/api/projects/new');
  assert.equal((last?.body as Project | undefined)?.name, 'A, changed meanwhile');
});

test('a browser that lets nothing be stored opens projects and says that nothing is kept', async () => {
  const service = new Service();
  await opened(service, 'a', project('A'));
  edit((draft) => {
    draft.name = 'B';
  });
  await settled(1000);
  assert.equal(shown().name, 'B');
  assert.deepEqual([useSaving.getState().phase, useSaving.getState().kept], ['away', false]);
});

test('an earlier finish brings back the swatch, light and picture it refers to, and no theme that is gone', () => {
  const coats = [
    shadow('one', { colour: { swatch: 'ink' }, offset: { distance: 3, follows: 'sun' } }),
    { id: 'two', name: 'two', on: true, kind: 'tint', fill: { kind: 'image', asset: 'grain', fit: 'cover' } },
  ];
  const then = project('P', [], {
    themes: [
      { id: 't', name: 'T', scheme: 'light' },
      { id: 'gone', name: 'Gone', scheme: 'dark' },
    ],
    swatches: [{ id: 'ink', name: 'Ink', values: { t: '#111111', gone: '#222222' } }],
    lights: [{ id: 'sun', name: 'Sun', bearing: 0, colour: '#ffffff', strength: 1 }],
    assets: [{ id: 'grain', name: 'Grain', media_type: 'image/png' }],
    finishes: [{ id: 'f', name: 'F', note: '', coats, themes: { gone: [shadow('three')] } }],
  } as unknown as Partial<Project>);
  open('p', project('P'));
  takeBackFinish('f', then);
  const now = shown();
  assert.deepEqual(now.finishes?.[0]?.coats, coats);
  assert.deepEqual(now.finishes?.[0]?.themes, {});
  assert.deepEqual(now.swatches, [{ id: 'ink', name: 'Ink', values: { t: '#111111' } }]);
  assert.equal(now.lights?.[0]?.id, 'sun');
  assert.equal(now.assets?.[0]?.id, 'grain');
});

test('coats that come from another project refer to what there is of the same name', () => {
  const coats = [shadow('one', { colour: { swatch: 'a' } })];
  const from = project('From', [], { swatches: [{ id: 'a', name: 'Ink', values: { t: '#111111' } }] });
  const into = project('Into', [], { swatches: [{ id: 'b', name: 'Ink', values: { t: '#111111' } }] });
  const draft = structuredClone(into);
  assert.deepEqual(adopted(draft, coats, referredBy(coats, from)), [
    shadow('one', { colour: { swatch: 'b' } }),
  ]);
  assert.deepEqual(draft, into);
});

test('fewer coats are those of the piece they were found for', () => {
  open(
    'p',
    project('P', [
      box('a', { coats: [shadow('1'), shadow('2')] }),
      box('b', { coats: [shadow('3'), shadow('4')] }),
    ]),
  );
  choosePieces(['a', 'b']);
  replaceStack([shadow('9')], { ...target(), piece: 'a' });
  assert.deepEqual([stackOf('a'), stackOf('b')], [['9'], ['3', '4']]);
});

test('a finish that parts of a join wear is used, and leaves them its coats when it goes', () => {
  const join = {
    ...box('j', { coats: [] }),
    shape: { kind: 'join', op: 'add', rounding: 0, parts: [box('part', { finish: 'f' })] },
  };
  open(
    'p',
    project('P', [join as unknown as Piece], {
      finishes: [{ id: 'f', name: 'F', note: '', coats: [shadow('1')] }],
    }),
  );
  assert.deepEqual(
    wearers(shown(), 'f').map(({ piece }) => piece),
    ['j'],
  );
  removeFinish('f');
  const shape = shown().scenes[0]?.pieces[0]?.shape as unknown as { parts: Piece[] };
  assert.deepEqual(shape.parts[0]?.wear, { coats: [shadow('1')] });
});

test('what belongs together is one step to undo', () => {
  open('p', project('P'));
  together(() => {
    addAsset({ id: 'x', name: 'x', media_type: 'image/png' } as never);
    addSwatch('Ink', '#111111');
  });
  assert.equal(useDocument.getState().past.length, 1);
  undo();
  assert.deepEqual(shown(), project('P'));
});

test('an offer to undo is for what was offered, whatever was done since', () => {
  open('p', project('P'));
  addSwatch('Ink', '#111111');
  const takeBack = undoerOfLast();
  addSwatch('Paper', '#eeeeee');
  takeBack();
  assert.deepEqual(
    shown().swatches?.map(({ name }) => name),
    ['Ink', 'Paper'],
  );
});

test('numbers may have their unit, and no other', () => {
  for (const [typed, unit, value] of [
    ['12px', 'px', 12],
    ['12 PX ', 'px', 12],
    ['2*(3+1)px', 'px', 8],
    ['50 %', '%', 50],
    ['90°', '°', 90],
    ['1,5', undefined, 1.5],
    ['12em', 'px', null],
    ['px', 'px', null],
  ] as const) {
    assert.equal(workOut(typed, unit), value, typed);
  }
});

test('a service that is away is asked again, ever more seldom; what went wrong here is not', async () => {
  const asked: number[] = [];
  let fails: Error = new Unreachable();
  let failure: string | null = null;
  const newest = new LatestRequest<object, null>(
    async () => {
      asked.push(Date.now());
      throw fails;
    },
    (told) => {
      failure = told.failure;
    },
  );
  newest.change({}, { pause: 0 });
  await settled(2600);
  assert.equal(asked.length, 3, 'at once, after 500 ms, after another second');
  assert.equal(failure, 'The service does not answer.');
  fails = new RangeError('a defect of ours');
  newest.change({}, { pause: 0 });
  await settled(2000);
  assert.equal(asked.length, 4);
  assert.match(String(failure), /a defect of ours/);
  newest.stop();
});

test('a refusal is told in its own words, and a cut connection in ours', async () => {
  const service = new Service();
  await assert.rejects(fetchInTime('http://zolvet.test/api/projects'), Unreachable);
  service.answer({ detail: 'No.' }, 422);
  const response = await fetchInTime('http://zolvet.test/api/projects');
  assert.equal(new ApiFailure(response.status, await response.json()).message, 'No.');
  const controller = new AbortController();
  service.late();
  const asked = fetchInTime('http://zolvet.test/api/projects', { signal: controller.signal });
  controller.abort(new Error('nobody waits'));
  await assert.rejects(asked, /nobody waits/);
});

test('a piece opens as SVG where that is clearly closer, until a form is chosen for it', () => {
  const forms = { shown: 'css', cssForm: 'rule', svgForm: 'inline', whole: false, chosenFor: null } as const;
  assert.equal(formOf(forms, 'sign', true), 'svg');
  assert.equal(formOf(forms, 'sign', false), 'css');
  assert.equal(formOf({ ...forms, chosenFor: 'sign' }, 'sign', true), 'css');
  assert.equal(formOf({ ...forms, chosenFor: 'card' }, 'sign', true), 'svg');
  assert.equal(formOf({ ...forms, shown: 'values' }, 'sign', true), 'values');
});

test('findings that come are the worst first, each once', () => {
  const finding = (key: string, severity: 'error' | 'warning' | 'hint', accepted?: string) =>
    ({ key, severity, accepted }) as Parameters<typeof withFound>[0][number];
  const first = withFound([], [finding('a', 'hint'), finding('b', 'warning', 'wanted')]);
  const all = withFound(first, [finding('a', 'hint'), finding('c', 'error'), finding('d', 'warning')]);
  assert.deepEqual(
    all.map(({ key }) => key),
    ['c', 'd', 'a', 'b'],
  );
});
