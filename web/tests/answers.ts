/** How questions are asked and what is done with answers. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { mock, test } from 'node:test';
import { ApiFailure, type Project, type Schemas, Unreachable } from '../src/core/client';
import { type Answered, LatestRequest } from '../src/core/latestRequest';
import { putRegions, regionsIn } from '../src/core/regions';
import { WorkerCanvases } from '../src/core/workerCanvases';
import { adopted, referredBy } from '../src/session/adopt';
import { bring, canBring, onlyChosen, putAway, useBringing } from '../src/session/bringing';
import { chance } from './chance';

/** A core that answers when it is told to. */
class Slow {
  readonly asked: number[] = [];
  readonly told: Answered<number, string>[] = [];
  private readonly waiting: {
    question: number;
    signal: AbortSignal;
    resolve: (answer: string) => void;
    reject: (reason: unknown) => void;
  }[] = [];

  readonly newest = new LatestRequest<number, string>(
    (question, signal) => {
      this.asked.push(question);
      return new Promise((resolve, reject) => {
        this.waiting.push({ question, signal, resolve, reject });
        signal.addEventListener('abort', () => reject(signal.reason));
      });
    },
    (told) => this.told.push(told),
  );

  get last() {
    return this.told.at(-1);
  }

  async answer() {
    const next = this.waiting.shift();
    next?.resolve(`answer ${next.question}`);
    await turned();
  }

  async fail(reason: unknown) {
    this.waiting.shift()?.reject(reason);
    await turned();
  }

  drop() {
    this.waiting.shift();
  }
}

/** Lets promises go on that wait for nothing but each other. */
async function turned() {
  for (let turn = 0; turn < 10; turn += 1) await Promise.resolve();
}

/** Time stands still but for what a test lets pass. */
function timed(name: string, work: (pass: (ms: number) => Promise<void>) => Promise<void>) {
  test(name, async () => {
    mock.timers.enable({ apis: ['setTimeout', 'Date'], now: 1_000_000 });
    try {
      await work(async (ms) => {
        mock.timers.tick(ms);
        await turned();
      });
    } finally {
      mock.timers.reset();
    }
  });
}

timed('one question at a time, and of those that came meanwhile only the newest', async () => {
  const core = new Slow();
  for (const question of [1, 2, 3, 4]) core.newest.change(question, { pause: 0 });
  assert.deepEqual(core.asked, [1]);
  await core.answer();
  assert.deepEqual([core.asked, core.last?.answer, core.last?.fresh], [[1, 4], 'answer 1', false]);
  await core.answer();
  assert.deepEqual(
    [core.asked, core.last?.answer, core.last?.of, core.last?.fresh],
    [[1, 4], 'answer 4', 4, true],
  );
});

timed('a question is asked once it has rested, and at the latest after its time', async (pass) => {
  const core = new Slow();
  core.newest.change(1, { pause: 100, atMost: 250 });
  await pass(0);
  assert.deepEqual(core.asked, [1], 'the first was due long ago');
  await core.answer();
  core.newest.change(2, { pause: 100 });
  await pass(99);
  assert.deepEqual(core.asked, [1]);
  core.newest.change(3, { pause: 100 });
  await pass(99);
  assert.deepEqual(core.asked, [1], 'it changed again');
  await pass(1);
  assert.deepEqual(core.asked, [1, 3]);
  await core.answer();
  for (let question = 4; question < 10; question += 1) {
    core.newest.change(question, { pause: 100, atMost: 250 });
    await pass(50);
  }
  assert.deepEqual(core.asked.slice(0, 2), [1, 3]);
  assert.equal(core.asked.length, 3, 'asked though it went on changing');
});

timed('what is no longer wanted is ended, and its answer is not shown', async () => {
  const core = new Slow();
  core.newest.change(1, { pause: 0 });
  core.newest.change(2, { pause: 0, cancels: true });
  await turned();
  assert.deepEqual(core.asked, [1, 2]);
  core.drop();
  await core.answer();
  assert.deepEqual([core.last?.answer, core.last?.fresh, core.last?.failure], ['answer 2', true, null]);
  core.newest.change(3, { pause: 0 });
  core.newest.change(null, { pause: 0 });
  await turned();
  assert.deepEqual(
    [core.last?.answer, core.last?.of, core.last?.fresh],
    [null, null, false],
    'it is forgotten',
  );
  await core.answer();
  assert.equal(core.last?.answer, null);
});

timed('the same question is asked again for whoever wants that, and not by itself', async () => {
  const core = new Slow();
  core.newest.change(1, { pause: 0 });
  await core.answer();
  core.newest.change(1, { pause: 0 });
  await turned();
  await core.answer();
  const asked = core.asked.length;
  core.newest.again();
  await turned();
  assert.equal(core.asked.length, asked + 1);
  assert.equal(core.last?.fresh, false);
  assert.equal(core.last?.answer, 'answer 1', 'what is known stays until then');
});

timed('paused, it asks nothing until there is another question; what it knows stays', async (pass) => {
  const core = new Slow();
  core.newest.change(1, { pause: 0 });
  await core.answer();
  core.newest.change(2, { pause: 50 });
  core.newest.pause();
  await pass(1000);
  assert.deepEqual([core.asked, core.last?.answer], [[1], 'answer 1']);
  core.newest.change(3, { pause: 0 });
  assert.deepEqual(core.asked, [1, 3]);
});

timed(
  'a refusal is not asked again; a service that is away is, ever more seldom, up to every eight seconds',
  async (pass) => {
    const core = new Slow();
    core.newest.change(1, { pause: 0 });
    await core.fail(
      new ApiFailure(422, { type: 'x', title: 'No', detail: 'too wide', status: 422 } as never),
    );
    await pass(60_000);
    assert.deepEqual(core.asked, [1]);
    assert.equal(core.last?.fresh, false);
    core.newest.change(2, { pause: 0 });
    const waits: number[] = [];
    for (let turn = 0; turn < 7; turn += 1) {
      await core.fail(new Unreachable());
      const before = core.asked.length;
      let waited = 0;
      while (core.asked.length === before && waited < 20_000) {
        await pass(100);
        waited += 100;
      }
      waits.push(waited);
    }
    assert.deepEqual(waits, [500, 1000, 2000, 4000, 8000, 8000, 8000]);
    await core.answer();
    assert.deepEqual([core.last?.answer, core.last?.failure], ['answer 2', null]);
  },
);

/** A canvas as far as leaves take hold of it. */
function canvas(parent: object) {
  const made = {
    parentNode: parent as object | null,
    className: 'stage',
    hidden: false,
    style: {},
    dataset: {} as Record<string, string>,
    transferControlToOffscreen: () => ({}),
    after: (other: { parentNode: object | null }) => {
      other.parentNode = made.parentNode;
    },
    remove: () => {
      made.parentNode = null;
    },
  };
  return made;
}

test('two canvases take turns: the one that is seen is never painted over with another view', () => {
  const page = {};
  const under = canvas(page);
  Object.assign(document, { createElement: () => canvas({}) });
  let given = 0;
  const gone: number[] = [];
  const worker = { takeLeaf: () => ++given, letGo: (id: number) => gone.push(id) } as never;
  const leaves = new WorkerCanvases(() => under as never);
  const first = leaves.forView('a', worker);
  assert.ok(first);
  assert.ok(first.canvas.hidden);
  leaves.show(first, {});
  assert.ok(leaves.shows(first, 'a') && !first.canvas.hidden);
  assert.equal(leaves.forView('a', worker), first, 'the same view, the same canvas');
  const second = leaves.forView('b', worker);
  assert.ok(second && second !== first);
  assert.equal(leaves.forView('c', worker), second, 'the first one is still seen');
  assert.ok(!leaves.shows(second, 'c'));
  leaves.show(second, {});
  assert.deepEqual([first.canvas.hidden, second.canvas.hidden], [true, false]);
  assert.equal(leaves.forView('a', worker), first);
  assert.equal(given, 2);
  leaves.hide();
  assert.ok(second.canvas.hidden && !leaves.shows(second, 'c'));
  const other = { takeLeaf: () => ++given, letGo: () => undefined } as never;
  const anew = leaves.forView('a', other);
  assert.deepEqual([gone, anew === first, given], [[1, 2], false, 3], 'a new worker has canvases of its own');
});

test('what has changed on a picture is read region by region, and put where it belongs', () => {
  class Pixels {
    constructor(
      readonly data: Uint8ClampedArray,
      readonly width: number,
      readonly height: number,
    ) {}
  }
  Object.assign(globalThis, { ImageData: Pixels });
  const words = [640, 480, 2, 3, 4, 2, 1, 10, 20, 1, 3];
  const pixels = Array.from({ length: (2 + 3) * 4 }, (_, at) => at);
  const bytes = new Uint8Array([9, 9, 9, 9, ...new Uint8Array(new Uint32Array(words).buffer), ...pixels]);
  const picture = regionsIn(bytes.subarray(4));
  assert.deepEqual([picture.width, picture.height], [640, 480]);
  const read = picture.regions.map(({ x, y, pixels }) => [
    x,
    y,
    pixels.width,
    pixels.height,
    [...pixels.data],
  ]);
  assert.deepEqual(read, [
    [3, 4, 2, 1, pixels.slice(0, 8)],
    [10, 20, 1, 3, pixels.slice(8)],
  ]);
  const put: unknown[] = [];
  const onto = {
    width: 1,
    height: 480,
    getContext: () => ({ putImageData: (_: unknown, x: number, y: number) => put.push([x, y]) }),
  };
  putRegions(onto as never, picture);
  assert.deepEqual(
    [onto.width, onto.height, put],
    [
      640,
      480,
      [
        [3, 4],
        [10, 20],
      ],
    ],
  );
});

const file = (name: string, text = '') => new File([text], name);

test('files that are dropped are taken by their endings, those of one kind together', async () => {
  assert.ok(!canBring([file('a.png'), file('b.txt')]));
  assert.ok(canBring([file('a.png'), file('b.CSS')]));
  await bring([
    file('a.css', '1'),
    file('b.tokens.json', '2'),
    file('c.css', '3'),
    file('d.zolvet.json', '4'),
    file('e.txt', '5'),
  ]);
  const kinds: unknown[] = [];
  for (let left = 3; left > 0; left -= 1) {
    const { brought, waiting } = useBringing.getState();
    assert.equal(waiting.length, left - 1);
    kinds.push([brought?.format, brought?.files.map(({ name, text }) => name + text)]);
    putAway();
  }
  assert.deepEqual(kinds, [
    ['css', ['a.css1', 'c.css3']],
    ['tokens', ['b.tokens.json2']],
    ['json', ['d.zolvet.json4']],
  ]);
  assert.equal(useBringing.getState().brought, null);
});

test('a packed drawing that is none says so, and nothing of what came with it is shown', async () => {
  await bring([file('a.css', '1'), file('b.svgz', 'not packed')]);
  const { brought, waiting, failed } = useBringing.getState();
  assert.deepEqual([brought, waiting], [null, []]);
  assert.ok(failed.length > 0);
  putAway();
});

test('of what a file brings, only what was chosen comes, with the swatches, lights and themes that it names', () => {
  const finish = (id: string, more = {}) => ({ id, name: id, note: '', coats: [], ...more });
  const found = {
    finishes: [finish('f', { coats: [{ colour: { swatch: 'w' } }] }), finish('g', { themes: { dusk: [] } })],
    swatches: [
      { id: 'w', name: 'W', values: { day: '#000' } },
      { id: 'v', name: 'V', values: {} },
    ],
    lights: [{ id: 'l', name: 'L', bearing: 0 }],
    themes: [
      { id: 'day', name: 'Day', scheme: 'light' },
      { id: 'dusk', name: 'Dusk', scheme: 'dark' },
    ],
    diagnostics: [],
  } as unknown as Schemas['Incoming'];
  const ids = (things: { id: string }[]) => things.map(({ id }) => id);
  const first = onlyChosen(found, new Set(['f']), 'css');
  assert.deepEqual([ids(first.finishes), ids(first.swatches), ids(first.themes)], [['f'], ['w'], ['day']]);
  assert.deepEqual(ids(first.lights), []);
  const second = onlyChosen(found, new Set(['g']), 'css');
  assert.deepEqual([ids(second.swatches), ids(second.themes)], [[], ['dusk']]);
  const tokens = onlyChosen(found, new Set(['f']), 'tokens');
  assert.deepEqual(ids(tokens.swatches), ['w', 'v'], 'a token file is asked for its colours');
});

test('whatever comes from another project, what it names is there afterwards, with a value in every theme', () => {
  const below = chance(3);
  const some = <T>(all: T[]): T[] => all.filter(() => below(2) === 0);
  const names = ['Sun', 'Lamp', 'Leaf', 'Ink'];
  const any = (mark: string): Project => {
    const themes = ['Day', 'Dusk', 'Print'].slice(0, 1 + below(3)).map((name, at) => ({
      id: `${below(2) ? mark : 'x'}-t${at}`,
      name,
      scheme: at === 1 ? 'dark' : 'light',
    }));
    const values = () =>
      Object.fromEntries(themes.map(({ id }) => [id, `#${below(9)}0${below(9)}0${below(9)}0`]));
    const id = (at: number) => `${below(2) ? mark : 'x'}-${at}`;
    return {
      schema: 3,
      name: mark,
      themes,
      scenes: [],
      swatches: some(names).map((name, at) => ({ id: id(at), name, values: values() })),
      lights: some(names).map((name, at) => ({ id: id(10 + at), name, bearing: 0, themes: {} })),
      assets: some(['a1', 'a2']).map((asset) => ({ id: asset, name: asset, kind: 'picture' })),
    } as unknown as Project;
  };
  for (let turn = 0; turn < 500; turn += 1) {
    const [from, to] = [any('from'), any('to')];
    const part = [
      ...(from.swatches ?? []).map(({ id }) => ({ colour: { swatch: id, shade: 2 } })),
      ...(from.lights ?? []).map(({ id }) => ({ offset: { distance: 1, follows: id } })),
      ...(from.assets ?? []).map(({ id }) => ({ fill: { kind: 'image', asset: id } })),
    ];
    const came = adopted(to, part, referredBy(part, from));
    const known = (things: { id: string }[] | undefined) => new Set((things ?? []).map(({ id }) => id));
    const [swatches, lights, assets] = [known(to.swatches), known(to.lights), known(to.assets)];
    for (const one of came as Record<string, Record<string, string>>[]) {
      assert.ok(one.colour === undefined || swatches.has(one.colour.swatch as string));
      assert.ok(one.offset === undefined || lights.has(one.offset.follows as string));
      assert.ok(one.fill === undefined || assets.has(one.fill.asset as string));
    }
    for (const { values } of to.swatches ?? []) {
      for (const { id } of to.themes)
        assert.ok((values as Record<string, string>)[id], 'a value in every theme');
    }
    assert.equal(swatches.size, to.swatches?.length ?? 0, 'no id twice');
  }
});
