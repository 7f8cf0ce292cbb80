/** Random programs on a store: who hears of changes hears them in their order, and history is what a list would be. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { effect, settled } from 'eltrix';
import { history, type Store, type StoreChange, store } from 'eltrix/store';
import { random, seed } from '../support/random.ts';

interface Count {
  readonly n: number;
  readonly made: readonly string[];
}

const add = (state: Count, by: number): Count => ({ n: state.n + by, made: [...state.made, `add ${by}`] });
const changes = {
  add,
  double: (state: Count): Count => ({ n: state.n * 2, made: [...state.made, 'double'] }),
  nothing: () => undefined,
  spoil: (): Count => {
    throw new RangeError('spoilt');
  },
};
const fresh = () => store<Count, typeof changes>({ n: 1, made: [] }, changes);

/** What is heard has to be a chain that ends at the state as it is. */
function chain(of: Store<Count>): { heard: StoreChange<Count>[]; check(): void } {
  const heard: StoreChange<Count>[] = [];
  let last = of.peek();
  of.addEventListener('change', event => heard.push((event as CustomEvent<StoreChange<Count>>).detail));
  return {
    heard,
    check() {
      for (const { before, after } of heard.splice(0)) {
        assert.equal(before, last);
        last = after;
      }
      assert.equal(of.peek(), last);
    },
  };
}

describe('a store', () => {
  it('notifies of changes made by listeners and effects, in order', async () => {
    for (const react of ['listener', 'effect'] as const) {
      const counter = fresh();
      const more = () => {
        if (counter.peek().n % 5 === 0) counter.change('add', 1);
      };
      let stop = () => {};
      if (react === 'listener') counter.addEventListener('change', more);
      else
        stop = effect(() => {
          counter.state.n;
          more();
        });
      const { check } = chain(counter);
      const past = history(counter);
      const next = random(seed);
      for (let step = 0; step < 200; step++) {
        counter.change('add', next(4));
        await settled();
        assert.notEqual(counter.peek().n % 5, 0);
        check();
        const { entries, index } = past.peek();
        assert.equal(index, entries.length - 1);
        // The last entry is the state as it is.
        const now = counter.peek();
        past.jump(index);
        assert.equal(counter.peek(), now);
      }
      stop();
    }
  });

  it('400 random programs of changes, undo, redo and jumps agree with a model', () => {
    for (let program = 0; program < 400; program++) {
      const next = random(seed + program);
      const limit = next(3) === 0 ? next(4) : 100;
      const counter = fresh();
      const past = history(counter, { limit, label: ({ name, args }) => [name, ...args].join(' ') });
      const { check } = chain(counter);
      const kept = Math.max(1, limit);
      let list = [counter.peek()];
      let labels = ['begin'];
      let at = 0;
      for (let step = 0; step < 30; step++) {
        const what = next(9);
        const where = `ELTRIX_SEED=${seed}, program ${program}, step ${step}`;
        if (what < 4) {
          const by = next(5);
          const before = counter.peek();
          const label = what === 3 ? 'double' : `add ${by}`;
          if (what === 3) counter.change('double');
          else counter.change('add', by);
          assert.notEqual(counter.peek(), before);
          list = [...list.slice(0, at + 1), counter.peek()].slice(-kept);
          labels = [...labels.slice(0, at + 1), label].slice(-kept);
          at = list.length - 1;
        } else if (what === 4) counter.change('nothing');
        else if (what === 5) assert.throws(() => counter.change('spoil'), RangeError);
        else if (what === 6) {
          past.undo();
          at = Math.max(0, at - 1);
        } else if (what === 7) {
          past.redo();
          at = Math.min(list.length - 1, at + 1);
        } else {
          const to = next(list.length + 1);
          if (to === list.length) assert.throws(() => past.jump(to), /history-index/);
          else past.jump((at = to));
        }
        assert.equal(counter.peek(), list[at], where);
        assert.deepEqual(
          past.peek().entries.map(({ label }) => label),
          labels,
          where,
        );
        assert.deepEqual([past.peek().index, past.canUndo, past.canRedo], [at, at > 0, at < list.length - 1], where);
        check();
      }
    }
  });
});
