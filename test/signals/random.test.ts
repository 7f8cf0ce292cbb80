/** Random programs: the same ones on our signals, on the proposal's public polyfill, and on a naive oracle. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { batch, computed, effect, signal } from 'eltrix';
import { Signal } from 'signal-polyfill';

/** A small generator of numbers, the same for the same seed. */
function random(seed: number): (below: number) => number {
  let state = seed * 2_654_435_761;
  return below => {
    state = (Math.imul(state ^ (state >>> 15), 2_246_822_519) + 0x9e3779b9) | 0;
    return (state >>> 1) % below;
  };
}

/** A derived value: it reads some, and which of them depends on what it reads first. */
interface Node {
  readonly picks: readonly number[];
  readonly add: number;
  /** It throws for values that this divides. */
  readonly throwsAt: number;
}

type Read = (index: number) => number;

function evaluate({ picks, add, throwsAt }: Node, read: Read): number {
  const first = read(picks[0]!);
  const other = picks.length > 1 ? read(picks[1 + (Math.abs(first) % (picks.length - 1))]!) : 0;
  const value = (first * 3 + other + add) % 101;
  if (throwsAt > 0 && value % throwsAt === 0) throw new RangeError(`value ${value}`);
  // Half of them forget what they read, so that values often stay the same.
  return add % 2 ? value : value % 3;
}

type Step = { set: readonly (readonly [number, number])[] } | { read: number };

function program(seed: number): { signals: number[]; nodes: Node[]; watched: number[]; steps: Step[] } {
  const next = random(seed + 1);
  const signals = Array.from({ length: 1 + next(4) }, () => next(50));
  const nodes = Array.from({ length: 1 + next(9) }, (_, i) => ({
    picks: Array.from({ length: 1 + next(4) }, () => next(signals.length + i)),
    add: next(20),
    throwsAt: next(4) === 0 ? 7 : 0,
  }));
  const all = signals.length + nodes.length;
  const watched = Array.from({ length: next(4) }, () => next(all));
  const steps = Array.from(
    { length: 12 },
    (): Step =>
      next(3) === 0
        ? { read: next(all) }
        : { set: Array.from({ length: 1 + next(3) }, () => [next(signals.length), next(50)] as const) },
  );
  return { signals, nodes, watched, steps };
}

const shown = (fn: () => number): string => {
  try {
    return String(fn());
  } catch (error) {
    return `${(error as Error).name}: ${(error as Error).message}`;
  }
};

/** What a program shows on an implementation: every reading, and each effect's values in order of the effects. */
interface Machine {
  read(index: number): number;
  apply(sets: readonly (readonly [number, number])[]): void;
  readonly log: string[][];
  end(): void;
}

function ours({ signals, nodes, watched }: ReturnType<typeof program>, count: () => void): Machine {
  const cells = signals.map(value => signal(value));
  const all: { get(): number }[] = [...cells];
  for (const node of nodes) {
    all.push(
      computed(() => {
        count();
        return evaluate(node, i => all[i]!.get());
      }),
    );
  }
  const log: string[][] = watched.map(() => []);
  const stops = watched.map((target, i) => effect(() => void log[i]!.push(shown(() => all[target]!.get()))));
  return {
    log,
    read: index => all[index]!.get(),
    apply: sets =>
      batch(() => {
        for (const [index, value] of sets) cells[index]!.set(value);
      }),
    end() {
      for (const stop of stops) stop();
    },
  };
}

function polyfill({ signals, nodes, watched }: ReturnType<typeof program>, count: () => void): Machine {
  const cells = signals.map(value => new Signal.State(value));
  const all: { get(): number }[] = [...cells];
  for (const node of nodes) {
    all.push(
      new Signal.Computed(() => {
        count();
        return evaluate(node, i => all[i]!.get());
      }),
    );
  }
  const log: string[][] = watched.map(() => []);
  const watcher = new Signal.subtle.Watcher(() => {});
  const effects = watched.map(
    (target, i) => new Signal.Computed(() => [log[i]!.push(shown(() => all[target]!.get()))]),
  );
  for (const one of effects) {
    watcher.watch(one);
    one.get();
  }
  return {
    log,
    read: index => all[index]!.get(),
    apply(sets) {
      for (const [index, value] of sets) cells[index]!.set(value);
      for (const pending of watcher.getPending()) pending.get();
      watcher.watch();
    },
    end: () => watcher.unwatch(...effects),
  };
}

function oracle({ signals, nodes }: ReturnType<typeof program>): Read & { set(index: number, value: number): void } {
  const values = [...signals];
  const read: Read = index => (index < values.length ? values[index]! : evaluate(nodes[index - values.length]!, read));
  return Object.assign(read, {
    set(index: number, value: number) {
      values[index] = value;
    },
  });
}

const distinct = (values: readonly string[]) => values.filter((value, i) => value !== values[i - 1]);

it('10,000 random programs agree with the polyfill of the proposal and with recomputing everything', t => {
  let readings = 0;
  let [our, their] = [0, 0];
  for (let seed = 0; seed < 10_000; seed++) {
    const given = program(seed);
    const naive = oracle(given);
    const mine = ours(given, () => our++);
    const reference = polyfill(given, () => their++);
    for (const step of given.steps) {
      if ('read' in step) {
        const expected = shown(() => naive(step.read));
        assert.equal(
          shown(() => mine.read(step.read)),
          expected,
          `program ${seed}`,
        );
        assert.equal(
          shown(() => reference.read(step.read)),
          expected,
          `program ${seed}, polyfill`,
        );
        readings++;
      } else {
        for (const [index, value] of step.set) naive.set(index, value);
        mine.apply(step.set);
        reference.apply(step.set);
        for (const [i, target] of given.watched.entries()) {
          assert.equal(
            mine.log[i]!.at(-1),
            shown(() => naive(target)),
            `program ${seed}, effect ${i}`,
          );
        }
      }
    }
    // The polyfill may run an effect again for an error like the last; what is seen is the same.
    assert.deepEqual(mine.log.map(distinct), reference.log.map(distinct), `program ${seed}`);
    mine.end();
    reference.end();
  }
  assert.ok(readings > 20_000);
  // Never more evaluations than the reference: each computed at most once per change.
  assert.ok(our <= their * 1.02, `${our} evaluations, the polyfill ${their}`);
  t.diagnostic(`${readings} readings agree; ${our} evaluations, the polyfill ${their}`);
});
