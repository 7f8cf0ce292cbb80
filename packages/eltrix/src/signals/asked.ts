import type { Readable } from './computed.ts';
import { clock, track } from './graph.ts';
import { type Follow, follow } from './outside.ts';
import { Cell } from './signal.ts';
import { untracked } from './state.ts';

/**
 * A signal as of `outside()`, which asks for its value while nothing observes it: in a listener or a hook.
 * @param now the present value.
 * @param initial the value where there is no page.
 */
export function asked<T>(now: () => T, begin: Follow<T>, initial: T, everywhere?: boolean): Readable<T> {
  const cell = new Cell(initial);
  follow(cell, begin, everywhere);
  const peek = () => {
    if (!cell.targets && (everywhere || globalThis.document)) {
      cell.current = untracked(now);
      // It may differ at the next reading: a computed that read it is outdated at once.
      cell.version++;
      clock.epoch++;
    }
    return cell.current;
  };
  return Object.assign(cell, {
    peek,
    get() {
      track(cell);
      return peek();
    },
  });
}
