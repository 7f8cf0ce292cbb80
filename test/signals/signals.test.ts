import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { batch, computed, effect, matches, settled, signal, untracked } from 'eltrix';

/** What goes to `reportError` while a function runs and everything settles. */
async function reported(fn: () => unknown): Promise<unknown[]> {
  const errors: unknown[] = [];
  const before = globalThis.reportError;
  globalThis.reportError = error => void errors.push(error);
  try {
    await fn();
    await settled();
  } finally {
    globalThis.reportError = before;
  }
  return errors;
}

describe('signals', () => {
  it('computeds are lazy, cached and glitch-free', () => {
    const a = signal(1);
    let runs = 0;
    const double = computed(() => a.get() * 2);
    const sum = computed(() => {
      runs++;
      return a.get() + double.get();
    });
    assert.equal(runs, 0);
    assert.equal(sum.get(), 3);
    a.set(2);
    a.set(2);
    assert.equal(sum.get(), 6);
    assert.equal(sum.get(), 6);
    assert.equal(runs, 2);
  });

  it('a computed with an equal value does not run its subscribers', async () => {
    const a = signal(1);
    const odd = computed(() => a.get() % 2);
    let runs = 0;
    const stop = effect(() => {
      odd.get();
      runs++;
    });
    a.set(3);
    await settled();
    assert.equal(runs, 1);
    a.set(4);
    await settled();
    assert.equal(runs, 2);
    stop();
  });

  it('an effect runs at most once, in a microtask', async () => {
    const [a, b] = [signal(1), signal(1)];
    const seen: number[] = [];
    const stop = effect(() => void seen.push(a.get() + b.get()));
    a.set(2);
    b.set(2);
    assert.deepEqual(seen, [2]);
    await settled();
    assert.deepEqual(seen, [2, 4]);
    stop();
    a.set(9);
    await settled();
    assert.deepEqual(seen, [2, 4]);
  });

  it('a batch updates before it returns; nested batches end with the outermost', () => {
    const a = signal(1);
    const seen: number[] = [];
    const stop = effect(() => void seen.push(a.get()));
    batch(() => {
      a.set(2);
      batch(() => a.set(3));
      assert.deepEqual(seen, [1]);
    });
    assert.deepEqual(seen, [1, 3]);
    assert.throws(
      () =>
        batch(() => {
          a.set(4);
          throw new Error('mid');
        }),
      { message: 'mid' },
    );
    assert.deepEqual(seen, [1, 3, 4]);
    stop();
  });

  it('a computed keeps an error and throws it to each reader until a dependency changes', () => {
    const a = signal(0);
    let runs = 0;
    const inverse = computed(() => {
      runs++;
      if (a.get() === 0) throw new RangeError('zero');
      return 1 / a.get();
    });
    assert.throws(() => inverse.get(), RangeError);
    assert.throws(() => inverse.get(), RangeError);
    assert.equal(runs, 1);
    a.set(2);
    assert.equal(inverse.get(), 0.5);
  });

  it('depends only on what the last run has read', async () => {
    const [which, a, b] = [signal(true), signal('a'), signal('b')];
    let runs = 0;
    const stop = effect(() => {
      runs++;
      return void (which.get() ? a.get() : b.get());
    });
    b.set('c');
    await settled();
    assert.equal(runs, 1);
    which.set(false);
    await settled();
    a.set('x');
    await settled();
    assert.equal(runs, 2);
    stop();
  });

  it('clean-ups run before the next run and at the end; inner effects stop with the outer one', async () => {
    const a = signal(1);
    const log: string[] = [];
    const stop = effect(() => {
      const value = a.get();
      effect(() => {
        log.push(`inner ${a.get()}`);
        return () => log.push('inner clean-up');
      });
      return () => log.push(`clean-up ${value}`);
    });
    a.set(2);
    await settled();
    assert.deepEqual(log, ['inner 1', 'inner clean-up', 'clean-up 1', 'inner 2']);
    stop();
    assert.deepEqual(log.slice(4), ['inner clean-up', 'clean-up 2']);
  });

  it('an effect that throws leaves the others running', async () => {
    const a = signal(1);
    assert.throws(
      () =>
        effect(() => {
          throw new Error('first run');
        }),
      { message: 'first run' },
    );
    let runs = 0;
    const stops = [
      effect(() => {
        if (a.get() === 2) throw new Error('later');
      }),
      effect(() => {
        a.get();
        runs++;
      }),
    ];
    const errors = await reported(() => a.set(2));
    assert.deepEqual(errors.map(String), ['Error: later']);
    assert.equal(runs, 2);
    for (const stop of stops) stop();
  });

  it('names the effects of a cycle', async () => {
    const a = signal(0);
    const errors = await reported(() => {
      effect(function climb() {
        a.set(a.get() + 1);
      });
    });
    assert.deepEqual(errors.map(String), [
      'Error: (update-cycle): the effect climb → the effect climb set what they read, 100 times in a row. ' +
        'Set only when the value differs, read it with peek(), or compute it. They were left as they are until the next change.',
    ]);
  });

  it('an effect that sets what it reads runs until it is stable', async () => {
    const a = signal(0);
    const stop = effect(() => {
      if (a.get() < 50) a.set(a.get() + 1);
    });
    await settled();
    assert.equal(a.peek(), 50);
    stop();
  });

  it('throws for setting inside a computed, and for a computed that reads itself', () => {
    const a = signal(0);
    const setting = computed(() => a.set(1));
    assert.throws(() => setting.get(), {
      message:
        '(set-in-computed): A computed sets a signal while it is evaluated. Move the change into an effect, or compute the value instead. Nothing was set.',
    });
    assert.equal(a.peek(), 0);
    const self = computed((): number => self.get() + 1, { name: 'self' });
    assert.throws(() => self.get(), {
      message:
        '(computed-cycle): self reads itself while it is evaluated, directly or through others. Break the circle: let one of them read a plain signal, or use peek().',
    });
  });

  it('compares with Object.is or the given function', () => {
    const a = signal(Number.NaN);
    let runs = 0;
    const stop = effect(() => {
      a.get();
      runs++;
    });
    batch(() => a.set(Number.NaN));
    assert.equal(runs, 1);
    stop();
    const point = signal({ x: 1 }, { equals: (b, c) => b.x === c.x });
    const first = point.peek();
    point.set({ x: 1 });
    assert.equal(point.peek(), first);
  });

  it('untracked and peek read without a dependency', () => {
    const a = signal(1);
    let runs = 0;
    const stop = effect(() => {
      untracked(() => a.get());
      a.peek();
      runs++;
    });
    batch(() => a.set(2));
    assert.equal(runs, 1);
    stop();
  });

  it('matches runs only the readers of both keys', () => {
    const chosen = signal(3);
    const isChosen = matches(chosen);
    let runs = 0;
    const stops = Array.from({ length: 1000 }, (_, key) =>
      effect(() => {
        isChosen(key);
        runs++;
      }),
    );
    runs = 0;
    batch(() => chosen.set(7));
    assert.equal(runs, 2);
    const derived = computed(() => isChosen(7));
    assert.equal(derived.get(), true);
    for (const stop of stops) stop();
    chosen.set(8);
    assert.equal(derived.get(), false);
  });

  it('unread computeds are collected, and long chains do not exhaust the stack', async () => {
    const a = signal(0);
    let last: { get(): number } = a;
    for (let i = 0; i < 20_000; i++) {
      const before = last;
      last = computed(() => before.get() + 1);
      last.get();
    }
    assert.equal((a as unknown as { targets: unknown }).targets, undefined);
    let seen = 0;
    const stop = effect(() => {
      seen = last.get();
    });
    a.set(1);
    await settled();
    assert.equal(seen, 20_001);
    stop();
    assert.equal((a as unknown as { targets: unknown }).targets, undefined);
  });
});
