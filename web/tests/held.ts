/** A project that the core holds between questions. Run by `cargo test -p zolvet-e2e --test orders`. */

import './browser';

import assert from 'node:assert/strict';
import { test } from 'node:test';
import { applyPatch, type Operation } from 'rfc6902';
import { ApiFailure, type Project } from '../src/core/client';
import { HeldDocuments } from '../src/core/held';
import { textOf } from '../src/core/text';
import { chance } from './chance';

interface Said {
  session: string;
  version: number;
  document?: Project;
  from?: number;
  patch?: Operation[];
}

/** The core, as far as it holds versions: it answers with the document that a question is about. */
class Core {
  readonly heard: Said[] = [];
  private readonly versions = new Map<string, Project>();

  answer(text: string): Project {
    const said: Said = JSON.parse(text);
    this.heard.push(said);
    const key = (version: number) => `${said.session} ${version}`;
    const known = this.versions.get(key(said.version));
    if (known) return known;
    const document = said.document ?? this.changed(said, key);
    this.versions.set(key(said.version), document);
    return document;
  }

  private changed({ from, patch }: Said, key: (version: number) => string): Project {
    const before = this.versions.get(key(from as number));
    if (!before) throw new ApiFailure(409, { type: 'lost', title: '', status: 409, detail: '' } as never);
    const document = structuredClone(before);
    for (const failure of applyPatch(document, patch as Operation[])) assert.equal(failure, null);
    return document;
  }

  forget() {
    this.versions.clear();
  }
}

const project = (name: string, more = {}): Project => ({ schema: 3, name, scenes: [], ...more }) as never;

test('a project is said whole once, and afterwards by what changed', async () => {
  const [core, held] = [new Core(), new HeldDocuments()];
  const ask = async (said: string) => core.answer(said);
  const versions = [project('A'), project('B'), project('B', { scale: ['f'] })];
  for (const version of versions) assert.deepEqual(await held.asked(version, ask), version);
  const [whole, ...changes] = core.heard;
  assert.deepEqual(whole?.document, versions[0]);
  assert.deepEqual(
    changes.map(({ from, version, patch, document }) => [from, version, patch?.length, document]),
    [
      [1, 2, 1, undefined],
      [2, 3, 1, undefined],
    ],
  );
  await held.asked(versions[2] as Project, ask);
  assert.deepEqual([core.heard.at(-1)?.version, core.heard.at(-1)?.patch], [3, []]);
});

test('questions beside the first one wait, so that the document is sent once', async () => {
  const [core, held] = [new Core(), new HeldDocuments()];
  let release = () => {};
  const gate = new Promise<void>((resolve) => {
    release = resolve;
  });
  const ask = async (said: string) => {
    await gate;
    return core.answer(said);
  };
  const version = project('A');
  const all = [1, 2, 3].map(() => held.asked(version, ask));
  release();
  for (const answer of await Promise.all(all)) assert.deepEqual(answer, version);
  assert.equal(core.heard.filter(({ document }) => document).length, 1);
});

test('a core that has lost the project is told it whole again', async () => {
  const [core, held] = [new Core(), new HeldDocuments()];
  const ask = async (said: string) => core.answer(said);
  await held.asked(project('A'), ask);
  core.forget();
  assert.deepEqual(await held.asked(project('B'), ask), project('B'));
  assert.deepEqual(
    core.heard.map(({ document, from }) => [document?.name, from]),
    [
      ['A', undefined],
      [undefined, 1],
      ['B', undefined],
    ],
  );
});

test('a failure that is none of the project is passed on, and the project stays known', async () => {
  const [core, held] = [new Core(), new HeldDocuments()];
  const ask = async (said: string) => core.answer(said);
  await held.asked(project('A'), ask);
  const away = async () => {
    throw new TypeError('fetch failed');
  };
  await assert.rejects(held.asked(project('B'), away), /fetch failed/);
  assert.deepEqual(await held.asked(project('C'), ask), project('C'));
  assert.deepEqual(core.heard.at(-1)?.from, 1);
});

test('a first question that fails is no reason for the next to wait for ever', async () => {
  const [core, held] = [new Core(), new HeldDocuments()];
  const away = async () => {
    throw new TypeError('fetch failed');
  };
  const both = [held.asked(project('A'), away), held.asked(project('A'), async (said) => core.answer(said))];
  const [first, second] = await Promise.allSettled(both);
  assert.equal(first?.status, 'rejected');
  assert.equal(second?.status, 'fulfilled');
});

test('whatever comes in whichever order, every question is about its own document', async () => {
  for (let seed = 1; seed <= 200; seed += 1) {
    const of = chance(seed);
    const [core, held] = [new Core(), new HeldDocuments()];
    let version = project('A', { scale: [] });
    const asked: Promise<void>[] = [];
    for (let step = 0; step < 12; step += 1) {
      if (of(3) > 0) {
        const scale = Array.from({ length: of(4) }, () => `f${of(5)}`);
        version = project(`${seed} ${of(4)}`, { scale });
      }
      const mine = version;
      const late = of(4);
      const ask = async (said: string) => {
        for (let turn = 0; turn < late; turn += 1) await new Promise((resolve) => setImmediate(resolve));
        if (of(9) === 0) core.forget();
        return core.answer(said);
      };
      asked.push(held.asked(mine, ask).then((answer) => assert.deepEqual(answer, mine, `seed ${seed}`)));
      if (of(2) === 0) await new Promise((resolve) => setImmediate(resolve));
    }
    await Promise.all(asked);
  }
});

test('a question that is written out in parts is the JSON of the whole', () => {
  for (let seed = 1; seed <= 300; seed += 1) {
    const of = chance(seed);
    const value = anything(of, 4);
    for (let time = 0; time < 2; time += 1)
      assert.equal(textOf(value), JSON.stringify(value), `seed ${seed}`);
  }
});

/** Any value that has JSON, some of it frozen as the store's is. */
function anything(of: (below: number) => number, depth: number): unknown {
  const leaf = [null, true, of(1000) / 8, `"\\${of(9)}\u2028é🌿`, '', [], {}];
  const kind = of(depth > 0 ? 4 : 2);
  if (kind < 2) return leaf[of(leaf.length)];
  const parts = Array.from({ length: of(4) }, () => anything(of, depth - 1));
  if (kind === 2) return parts.map((part) => (of(2) === 0 ? Object.freeze(part) : part));
  const names = ['id', 'pieces', 'a b', '"', 'undefined'];
  const fields = parts.map((part, at) => [names[at], of(5) === 0 ? undefined : part] as const);
  return Object.fromEntries(fields);
}
