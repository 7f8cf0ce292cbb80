/** Random changes in place: whoever reads a tracked structure shows what a plain one has after the same changes. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { effect, plain, settled } from 'eltrix';
import { random, seed } from '../support/random.ts';

/** What a `live` property gives, by itself. */
const built = new URL('../../packages/eltrix/dist/development/signals/deep.js', import.meta.url).href;
const { deep } = (await import(built)) as typeof import('../../packages/eltrix/src/signals/deep.ts');

type Row = { id: number; label?: string; tags?: unknown[]; self?: Row };
type Root = { rows: Row[]; matrix: number[][]; names: Record<string, unknown>; n: number; bees: number };
type Step = (root: Root) => unknown;

const fresh = (): Root => ({
  rows: [{ id: 1, tags: ['a'] }, { id: 2 }, { id: 3, label: 'c' }],
  matrix: [[1, 2], [3], []],
  names: { a: 1, b: { c: 2 } },
  n: 1,
  get bees() {
    return this.n * 1000;
  },
  set bees(count) {
    this.n = Math.round(count / 1000);
  },
});

const readers: readonly ((root: Root) => unknown)[] = [
  root => JSON.stringify(root),
  root => root.rows.length,
  root => root.rows.at(-1)?.id,
  root => root.rows.map(({ label }) => label).join(),
  root => root.rows.filter(row => row.id % 2).length,
  root => root.rows.some(row => 'label' in row),
  root => root.rows[1]?.tags?.includes('b'),
  root => [...root.rows.entries()].map(([i, { id }]) => i * id),
  root => root.rows.findLast(row => row.id < 3)?.id,
  root => root.matrix.flat().reduce((sum, n) => sum + (n ?? 0), 0),
  root => root.matrix.map(row => row.indexOf(3)),
  root => root.matrix[0]?.toString(),
  root => root.matrix.concat([[7]]).length,
  root => Object.keys(root.names).join(),
  root => Object.entries(root.names).length,
  root => Object.hasOwn(root.names, 'b'),
  root => JSON.stringify({ ...root.names }),
  root => (root.names['b'] as { c?: number } | undefined)?.c,
  root => root.n,
  root => root.bees,
];

/** One change, the same on whatever it is done to. */
function step(next: (below: number) => number): readonly [string, Step] {
  const [a, b, c] = [next(5), next(5), next(9)];
  const row = (): Row => ({ id: c, ...(a === 0 && { label: 'new' }), ...(a === 1 && { tags: ['b'] }) });
  const steps: Record<string, Step> = {
    push: root => root.rows.push(row(), { id: b }),
    pop: root => root.rows.pop()?.id,
    shift: root => root.rows.shift()?.id,
    unshift: root => root.rows.unshift(row()),
    splice: root => root.rows.splice(a, b - 1, ...(c > 4 ? [row()] : [])).length,
    sort: root => void root.rows.sort((x, y) => (c > 4 ? x.id - y.id : y.id - x.id)),
    reverse: root => void root.rows.reverse(),
    fill: root => void root.matrix[a]?.fill(c, b - 2),
    copyWithin: root => void root.rows.copyWithin(a, b),
    'length cut': root => (root.matrix.length = Math.min(a, root.matrix.length)),
    'inner length': root => root.matrix[0] && (root.matrix[0].length = b),
    'set an index': root => void (root.matrix[a] = [b, c]),
    'set inside': root => root.matrix[a] && (root.matrix[a]![b] = c),
    'set a field': root => root.rows[a] && (root.rows[a]!.id = c),
    'add a field': root => root.rows[a] && (root.rows[a]!.label = `l${c}`),
    'take a field': root => root.rows[a] && delete root.rows[a]!.label,
    'delete an index': root => delete root.matrix[a],
    'new key': root => (root.names[`k${a}`] = b),
    'delete a key': root => delete root.names[`k${a}`],
    'nested key': root => (root.names['b'] = { c }),
    define: root =>
      Reflect.defineProperty(root.names, 'd', { value: c, enumerable: true, configurable: true, writable: true }),
    assign: root => void Object.assign(root.names, { a: b, e: c }),
    'swap rows': root => {
      const [x, y] = [root.rows[a], root.rows[b]];
      if (x && y) [root.rows[a], root.rows[b]] = [y, x];
    },
    'the same row twice': root => root.rows[a] && void root.rows.push(root.rows[a]!),
    'whole list': root => void (root.rows = [row(), ...root.rows.slice(0, 3)]),
    'tags by push': root => root.rows[a] && (root.rows[a]!.tags ??= []).push('b'),
    n: root => {
      root.n = c;
    },
    'by a setter': root => (root.bees = c * 1000),
    'nothing new': root => void Object.assign(root, { n: root.n }),
    'plain text': root => root.rows.length > 9 && (root.rows.length = 2),
  };
  const names = Object.keys(steps);
  const name = names[next(names.length)]!;
  return [`${name} ${a} ${b} ${c}`, steps[name]!];
}

it('20 readers see all changes of 300 random programs', async () => {
  for (let program = 0; program < 300; program++) {
    const next = random(seed + program);
    const live = deep(fresh());
    const model = fresh();
    const shown: unknown[] = [];
    const stops = readers.map((read, i) => effect(() => void (shown[i] = read(live))));
    const done: string[] = [];
    for (let count = 0; count < 25; count++) {
      const [name, change] = step(next);
      done.push(name);
      const [seen, expected] = [change(live), change(model)];
      await settled();
      const where = () => `ELTRIX_SEED=${seed}, program ${program}: ${done.join(', ')}`;
      assert.deepEqual(plain(seen), expected, where());
      for (const [i, read] of readers.entries()) assert.deepEqual(shown[i], read(model), `${where()}: ${read}`);
    }
    for (const stop of stops) stop();
  }
});
