/** Values are deeply equal in pages exactly where they are for Node. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { inspect } from 'node:util';
import { isEqual } from '../../../packages/eltrix-tool/src/testing/equal.ts';
import { random, seed } from '../../support/random.ts';

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

it('20,000 random pairs are equal exactly if they are for Node', () => {
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
