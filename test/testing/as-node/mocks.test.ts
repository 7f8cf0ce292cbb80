/** Mocks in pages do what Node's do. */
import assert from 'node:assert/strict';
import { describe, it, type Mock, type MockTracker, mock } from 'node:test';
import { inspect } from 'node:util';
import { MockTracker as OurTracker } from '../../../packages/eltrix-tool/src/testing/mock.ts';
import { random, seed } from '../../support/random.ts';

describe('mocks', () => {
  type Tracker = Pick<MockTracker, 'fn' | 'method' | 'getter' | 'setter' | 'restoreAll'>;

  class Shelf {
    jars = 3;
    get label() {
      return `${this.jars} jars`;
    }
    set label(text: string) {
      this.jars = text.length;
    }
    add(count: number): number {
      if (count < 0) throw new RangeError(`${count} is too little`);
      this.jars += count;
      return this.jars;
    }
  }

  /** What comes of random steps with a tracker, one line a step. */
  function steps(tracker: Tracker, next: (below: number) => number): string[] {
    const [shelf, second] = [new Shelf(), new Shelf()];
    const plain = (a: number, b = 1) => a + b;
    const other = (a: number) => {
      if (a > 3) throw new Error(`over ${a}`);
      return a * 10;
    };
    class Box {
      constructor(readonly width: number) {}
    }
    const options = () => (next(3) === 0 ? { times: next(3) + 1 } : undefined);
    const fns = [
      tracker.fn(),
      tracker.fn(plain),
      tracker.fn(plain, other, options()),
      tracker.fn(other, options() as never),
      tracker.method(shelf, 'add', ...((next(2) ? [other, options()] : []) as [])),
      tracker.getter(shelf, 'label', ...((next(2) ? [() => 'none', options()] : []) as [])),
      // Of two that are exchanged in one accessor, Node does not put both back.
      tracker.setter(second, 'label'),
      tracker.fn(Box),
    ] as unknown as Mock<(...args: unknown[]) => unknown>[];
    const said: string[] = [];
    const say = (what: string, fn: () => unknown) => {
      try {
        said.push(`${what}: ${inspect(fn())}`);
      } catch (error) {
        said.push(`${what}: throws ${(error as Error).name}`);
      }
    };
    for (let step = 0; step < 40; step++) {
      const at = next(fns.length);
      const { mock } = fns[at]!;
      const value = next(6) - 1;
      const what = next(12);
      if (what < 3) say(`call ${at}`, () => fns[at]!.call(shelf, value, what));
      else if (what === 3) say('add', () => shelf.add(value));
      else if (what === 4) say('label', () => shelf.label);
      else if (what === 5) say('set label', () => (second.label = 'x'.repeat(value + 1)));
      else if (what === 6) say('new', () => new (fns[7] as unknown as typeof Box)(value));
      else if (what === 7)
        say(`implementation ${at}`, () => mock.mockImplementation((next(2) ? other : plain) as () => unknown));
      else if (what === 8)
        say(`once ${at}`, () =>
          mock.mockImplementationOnce(() => 'once', ...(next(2) ? [mock.callCount() + next(3)] : [])),
        );
      else if (what === 9) say(`restore ${at}`, () => mock.restore());
      else if (what === 10) say(`reset ${at}`, () => mock.resetCalls());
      else
        say(`calls ${at}`, () =>
          mock.calls.map(({ arguments: given, result, error, target, this: self }) => [
            given,
            at === 7 ? typeof result : result,
            (error as Error | undefined)?.message,
            target === undefined,
            self === shelf,
          ]),
        );
      said.push(`${at} was called ${mock.callCount()} times, ${shelf.jars} jars`);
    }
    tracker.restoreAll();
    say('after all', () => [shelf.label, shelf.add(1), second.jars, second.label]);
    return said;
  }

  it('300 random programs of functions, methods, getters and setters do the same as in Node', () => {
    for (let i = 0; i < 300; i++)
      assert.deepEqual(
        steps(new OurTracker() as unknown as Tracker, random(seed + i)),
        steps(mock, random(seed + i)),
        `ELTRIX_SEED=${seed}, program ${i}`,
      );
  });
});
