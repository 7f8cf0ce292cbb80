import type { Readable } from './computed.ts';
import { clock, track } from './graph.ts';
import { type Follow, follow } from './outside.ts';
import { Cell } from './signal.ts';
import { untracked } from './state.ts';

class Asked<T> extends Cell<T> {
  constructor(
    initial: T,
    readonly now: () => T,
    readonly everywhere: boolean | undefined,
  ) {
    super(initial);
  }

  override get(): T {
    track(this);
    return this.peek();
  }

  override peek(): T {
    if (!this.targets && (this.everywhere || globalThis.document)) {
      this.current = untracked(this.now);
      // It may differ at the next reading: a computed that read it is outdated at once.
      this.version++;
      clock.epoch++;
    }
    return this.current;
  }
}

/**
 * A signal as of `outside()`, which asks for its value while nothing observes it: in a listener or a hook.
 * @param now the present value.
 * @param initial the value where there is no page.
 */
export function asked<T>(now: () => T, begin: Follow<T>, initial: T, everywhere?: boolean): Readable<T> {
  const cell = new Asked(initial, now, everywhere);
  follow(cell, begin, everywhere);
  return cell;
}
