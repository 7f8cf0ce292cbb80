/** What a benchmark page runs: one suite in one way, named in its address. */
import { cards } from './suites/cards.ts';
import { time } from './suites/suite.ts';
import { table } from './suites/table.ts';
import { tree } from './suites/tree.ts';

const query = new URLSearchParams(location.search);
const way = query.get('way')!;
const warm = Number(query.get('warm'));
const times = Number(query.get('times'));

const suites = {
  async table() {
    const { make } = way === 'hand' ? await import('./suites/table-hand.ts') : await import('./suites/table-eltrix.ts');
    return table(make);
  },
  async cards() {
    await (way === 'hand' ? import('./suites/cards-hand.ts') : import('./suites/cards-eltrix.ts'));
    return cards();
  },
  async tree() {
    await (way === 'hand' ? import('./suites/tree-hand.ts') : import('./suites/tree-eltrix.ts'));
    return tree();
  },
};

const suite = suites[query.get('suite') as keyof typeof suites]();
const only = new RegExp(query.get('only') ?? '');
const operations = suite.then(({ operations }) => operations.filter(({ name }) => only.test(name)));
Object.assign(globalThis, {
  names: operations.then(list => list.map(({ name }) => name)),
  /** Runs one of them. */
  async timing(index: number) {
    const [timing] = await time({ operations: [(await operations)[index]!] }, warm, times);
    return timing;
  },
});
