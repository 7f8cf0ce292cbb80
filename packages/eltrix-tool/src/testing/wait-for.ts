/** Waiting for a condition. */
import { inTime } from './in-time.ts';
import { pause } from './real-time.ts';

/** How often and how long `waitFor` calls its function. */
export interface WaitOptions {
  /** The time between two calls, in milliseconds; 50 unless given. */
  readonly interval?: number;
  /** The time limit, in milliseconds; 1000 unless given. */
  readonly timeout?: number;
}

/**
 * Calls a function until it neither throws nor rejects, and resolves with its result.
 *
 * @throws Error after `timeout`; `cause` is the error of the last call.
 * @example await waitFor(() => assert.equal(card.state, 'ready'));
 */
export async function waitFor<T>(condition: () => T | Promise<T>, options: WaitOptions = {}): Promise<T> {
  if (typeof condition !== 'function') throw new TypeError('waitFor() takes a function: waitFor(() => assert.ok(…)).');
  const { interval = 50, timeout = 1000 } = options;
  const end = performance.now() + timeout;
  const late = new Error('it has not ended.');
  let last = late as unknown;
  for (;;) {
    try {
      return await inTime(Math.max(0, end - performance.now()), condition, () => late);
    } catch (error) {
      if (error !== late) last = error;
      if (performance.now() >= end)
        throw new Error(
          `(wait-timeout): The condition did not pass within ${timeout} ms. The last attempt: ${last instanceof Error ? last.message : String(last)}`,
          { cause: last },
        );
    }
    await pause(interval);
  }
}
