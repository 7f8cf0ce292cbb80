/** What pages run is to mean what it means under Node: random programs of tests, and random values compared. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { inspect } from 'node:util';
import { isEqual } from '../../src/testing/equal.ts';
import { eltrix, project } from '../support/project.ts';
import { random, seed } from '../support/random.ts';

const programs = 80;

/** A suite of suites, tests, subtests and hooks, some of which throw; each says when it runs. */
function program(next: (below: number) => number): string {
  let count = 0;
  const oneOf = <T>(...list: readonly T[]) => list[next(list.length)]!;
  const hook = (kind: string) => {
    const name = `${kind} ${++count}`;
    // Where afterEach() throws, Node leaves out those of the suites around.
    const end = kind !== 'afterEach' && next(9) === 0 ? ` throw new Error('${name}');` : '';
    return `${kind}(${oneOf('', 'async ')}() => { log('${name}');${end} });`;
  };
  const test = (depth: number, call: string): string => {
    const id = ++count;
    const body = [`log('test ${id}');`];
    if (next(5) === 0) body.push(`t.${oneOf('after', 'beforeEach', 'afterEach')}(() => log('own ${id}'));`);
    if (next(12) === 0) body.push("t.todo('late');");
    if (depth < 2 && next(4) === 0)
      for (let inner = next(2); inner >= 0; inner--) body.push(test(depth + 1, 'await t.test'));
    if (next(6) === 0) body.push(`throw new Error('test ${id}');`);
    const options =
      next(4) === 0 ? oneOf(', { skip: true }', ", { skip: 'why' }", ', { todo: true }', ', { timeout: 9e4 }') : '';
    if (next(9) === 0)
      return `${call}('t${id}'${options}, (t, done) => { log('test ${id}'); setTimeout(done, 0, ${oneOf('', "new Error('done')")}); });`;
    return `${call}('t${id}'${options}, async t => { ${body.join(' ')} });`;
  };
  const suite = (depth: number): string => {
    const id = ++count;
    const lines = ['before', 'after', 'beforeEach', 'afterEach'].filter(() => next(4) === 0).map(hook);
    for (let k = next(4); k >= 0; k--)
      lines.push(depth < 2 && next(4) === 0 ? suite(depth + 1) : test(1, oneOf('it', 'test')));
    return `${oneOf('describe', 'suite')}('s${id}'${next(14) === 0 ? ', { skip: true }' : ''}, () => {\n${lines.join('\n')}\n});`;
  };
  return suite(0);
}

/** By program: what ended how, in order, and what ran, in order. */
function told(tap: string): Map<string, { outcomes: string[]; ran: string }> {
  const all = new Map<string, string[]>();
  let outcomes: string[] = [];
  const ran = new Map<string, string>();
  for (const line of tap.split('\n')) {
    const [, which, what] = /RAN (\d+): (.*)$/.exec(line) ?? [];
    if (which) ran.set(which, what!.trim());
    const [, outcome, name, rest] = /^\s*(ok|not ok) \d+ - ((?:program |t|s)\d+)(.*)$/.exec(line) ?? [];
    if (!name) continue;
    // What is skipped in a suite that could not begin has failed for Node.
    outcomes.push(`${rest!.includes('# SKIP') ? 'skipped' : outcome} ${name}${rest!.trimEnd()}`);
    const [, done] = /^program (\d+)/.exec(name) ?? [];
    if (!done) continue;
    all.set(done, outcomes);
    outcomes = [];
  }
  return new Map([...all].map(([which, outcomes]) => [which, { outcomes, ran: ran.get(which) ?? '' }]));
}

it(`${programs} random programs of tests run and end as under Node`, () => {
  const parts = Array.from({ length: programs }, (_, i) => {
    const code = program(random(seed + i));
    return `describe('program ${i}', () => {
before(() => { ran.length = 0; });
after(() => console.log('RAN ${i}: ' + ran.join(', ')));
${code}
});`;
  });
  const root = project({
    'src/a.test.js': `import { describe, suite, it, test, before, after, beforeEach, afterEach } from 'node:test';
const ran = [];
const log = text => void ran.push(text);
${parts.join('\n')}`,
  });
  const { stdout } = spawnSync(process.execPath, ['--test', '--test-reporter=tap', join(root, 'src/a.test.js')], {
    encoding: 'utf8',
    env: { ...process.env, NODE_TEST_CONTEXT: undefined },
  });
  const [expected, seen] = [
    told(stdout),
    told(eltrix(root, 'test', '--in', 'simulated', '--no-shuffle', '--no-clean', '--report', 'tap').stdout),
  ];
  assert.equal(expected.size, programs);
  for (const [which, of] of expected)
    assert.deepEqual(seen.get(which), of, `ELTRIX_SEED=${seed}\n${parts[Number(which)]}`);
});

class Point {
  constructor(
    readonly x: unknown,
    readonly y: unknown,
  ) {}
}

/** A value, and the same one made once more or one that differs a little. */
function pair(next: (below: number) => number, depth = 0): readonly [unknown, unknown] {
  const twice = <T>(make: () => T): readonly [T, T] => [make(), make()];
  const simple = [
    undefined,
    null,
    true,
    false,
    0,
    -0,
    Number.NaN,
    1,
    1n,
    '',
    'a',
    'b',
    Symbol.iterator,
    Math.max,
    Point,
  ];
  const leaf = () => simple[next(simple.length)];
  const makers: (() => readonly [unknown, unknown])[] = [
    () => [leaf(), leaf()],
    () => {
      const one = leaf();
      return [one, one];
    },
    () => twice(() => new Date(5)),
    () => [new Date(5), new Date(next(2) ? 5 : Number.NaN)],
    () => [/a/g, next(2) ? /a/g : /a/i],
    () => [new Error('a'), new (next(2) ? Error : TypeError)(next(3) ? 'a' : 'b')],
    () => [new Error('a', { cause: 1 }), new Error('a', { cause: next(2) + 1 })],
    () => [Object(next(2)), Object(next(2))],
    () => [Object('a'), next(2) ? 'a' : Object('a')],
    () => [new Uint8Array([1, next(2)]), new (next(3) ? Uint8Array : Int8Array)([1, next(2)])],
    () => [new Uint8Array([1, next(2)]).buffer, new Uint8Array([1, next(2)]).buffer],
    () => [new DataView(new ArrayBuffer(next(2) + 1)), new DataView(new ArrayBuffer(1))],
    () => twice(() => new WeakSet()),
    () => [Promise.resolve(1), Promise.resolve(1)],
    () => twice(() => Object.create(null)),
    () => [Object.create(null), {}],
    () => [Array(2), next(2) ? Array(2) : [undefined, undefined]],
  ];
  const inner = () => pair(next, depth + 1);
  const nested: (() => readonly [unknown, unknown])[] = [
    () => {
      const [a, b] = [inner(), inner()];
      return [
        [a[0], b[0]],
        [a[1], b[1]],
      ];
    },
    () => {
      const [a, b] = [inner(), inner()];
      return [{ a: a[0], b: b[0] }, next(2) ? { b: b[1], a: a[1] } : { a: a[1], b: b[1] }];
    },
    () => {
      const a = inner();
      return [{ a: a[0] }, { a: a[1], ...(next(2) && { b: undefined }) }];
    },
    () => {
      const [a, b] = [inner(), inner()];
      return [new Point(a[0], b[0]), next(4) ? new Point(a[1], b[1]) : { x: a[1], y: b[1] }];
    },
    () => {
      const [a, b] = [inner(), inner()];
      return [
        new Map([
          [a[0], b[0]],
          ['k', 1],
        ]),
        new Map([
          ['k', next(3) ? 1 : 2],
          [a[1], b[1]],
        ] as [unknown, unknown][]),
      ];
    },
    () => {
      const [a, b] = [inner(), inner()];
      return [new Set([a[0], b[0]]), next(2) ? new Set([b[1], a[1]]) : new Set([a[1], b[1]])];
    },
    () => {
      const a = inner();
      return [{ [Symbol.for('s')]: a[0] }, { [Symbol.for('s')]: a[1] }];
    },
    () => {
      const a = inner();
      const [one, two]: Record<string, unknown>[] = [{ a: a[0] }, { a: a[1] }];
      one!['self'] = one;
      two!['self'] = next(2) ? two : one;
      return [one, two];
    },
    () => {
      const a = inner();
      return [Object.assign([a[0]], { more: 1 }), next(2) ? Object.assign([a[1]], { more: 1 }) : [a[1]]];
    },
  ];
  const list = depth < 3 && next(2) ? nested : makers;
  return list[next(list.length)]!();
}

describe('deep equality', () => {
  it('20,000 random pairs are equal exactly where they are for Node', () => {
    const next = random(seed);
    let equal = 0;
    for (let i = 0; i < 20_000; i++) {
      const [a, b] = pair(next);
      let expected = true;
      try {
        assert.deepStrictEqual(a, b);
      } catch {
        expected = false;
      }
      if (expected) equal++;
      for (const [one, two] of [
        [a, b],
        [b, a],
      ])
        if (isEqual(one, two) !== expected) assert.fail(`Node says ${expected} of ${inspect(one)} and ${inspect(two)}`);
    }
    assert.ok(equal > 1000 && equal < 19_000, `${equal} were equal`);
  });
});
