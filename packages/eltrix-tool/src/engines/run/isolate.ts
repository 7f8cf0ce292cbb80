/** Finds tests whose outcome depends on earlier tests. */
import type { RunPlan } from '../../testing/plan.ts';
import { shuffled } from '../../testing/shuffle.ts';
import type { FileOutcome } from './file-run.ts';

export interface Dependence {
  readonly file: string;
  /** The dependent test, and its outcome when it runs alone. */
  readonly test: { readonly id: number; readonly name: string };
  readonly alone: 'passes' | 'fails';
  /** The earlier tests that change its outcome; several if only their combination does. */
  readonly after: readonly { readonly id: number; readonly name: string }[];
}

/** Runs tests of a file in a new page, in a given order; null: only lists the tests. */
type RunOrder = (order: readonly number[] | null) => Promise<FileOutcome>;

const orders = 3;

/**
 * Runs each test alone, then all of them in several orders, and finds the causes of differences by bisection.
 * @param seed determines the random orders.
 */
export async function findDependences(file: string, seed: number, run: RunOrder): Promise<Dependence[]> {
  const { tests } = await run(null);
  const ids = tests.map(({ id }) => id);
  const name = (id: number) => tests.find(test => test.id === id)!;
  const alone = new Map<number, boolean>();
  for (const id of ids) alone.set(id, (await run([id])).failed.has(id));
  const found = new Map<number, Dependence>();
  for (let i = 0; i < orders; i++) {
    const order = i === 0 ? ids : shuffled(ids, seed + i);
    const { failed } = await run(order);
    for (const [at, id] of order.entries()) {
      if (found.has(id) || failed.has(id) === alone.get(id)) continue;
      const after = await culprits(order.slice(0, at), id, failed.has(id), run);
      found.set(id, { file, test: name(id), alone: alone.get(id) ? 'fails' : 'passes', after: after.map(name) });
    }
  }
  return [...found.values()].sort((a, b) => a.test.id - b.test.id);
}

/** The smallest set of earlier tests that changes an outcome, by bisection. */
async function culprits(before: readonly number[], id: number, fails: boolean, run: RunOrder): Promise<number[]> {
  const does = async (some: readonly number[]) => (await run([...some, id])).failed.has(id) === fails;
  let left = [...before];
  while (left.length > 1) {
    const half = left.length >> 1;
    const [first, second] = [left.slice(0, half), left.slice(half)];
    if (await does(second)) left = second;
    else if (await does(first)) left = first;
    else break;
  }
  return left;
}

export function planFor(plan: RunPlan, order: readonly number[] | null): RunPlan {
  return { ...plan, order: order ?? [], seed: null, times: 1, match: [] };
}
