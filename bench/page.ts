/** What a benchmark page runs: one suite in one way, named in its address. */
import { cards } from './suites/cards.ts';
import { first, type Suite, type Timing, time } from './suites/suite.ts';
import { table } from './suites/table.ts';
import { tree } from './suites/tree.ts';
import { cards as cardWays, nestedCards, tables, trees } from './suites/ways.ts';

const query = new URLSearchParams(location.search);
const way = query.get('way')!;

const suites: Record<string, () => Promise<Suite>> = {
  async table() {
    const { make } = await tables[way]!();
    return table(make, query.get('temperature') === 'cold' ? 1 : 20);
  },
  async cards() {
    await cardWays[way]!();
    return cards();
  },
  async 'nested cards'() {
    await nestedCards[way]!();
    return cards();
  },
  async tree() {
    await trees[way]!();
    return tree();
  },
};

const only = new RegExp(query.get('only') ?? '');
const operations = suites[query.get('suite')!]!().then(({ operations }) =>
  operations.filter(({ name }) => only.test(name)),
);
Object.assign(globalThis, {
  names: operations.then(list => list.map(({ name }) => name)),
  /** Runs an operation until it is warm, then some times more. */
  async timing(index: number): Promise<Timing> {
    return time((await operations)[index]!, Number(query.get('warm')), Number(query.get('times')));
  },
  /** Runs an operation once, as on a first visit. */
  async firstTiming(index: number): Promise<Timing> {
    return first((await operations)[index]!);
  },
});
