import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';

/**
 * The time in milliseconds, as in `Date.now()`, updated at an interval while something depends on it. The clock stops
 * while the page is hidden, and updates when it is visible again.
 * @example now = clock(60_000);  // ${() => new Date(this.now.get()).toLocaleTimeString()}
 */
export function clock(interval = 1000): Readable<number> {
  return asked(
    Date.now,
    set => {
      let timer: ReturnType<typeof setInterval> | undefined;
      const tick = () => set(Date.now());
      const follow = () => {
        clearInterval(timer);
        tick();
        if (!document.hidden) timer = setInterval(tick, interval);
      };
      follow();
      document.addEventListener('visibilitychange', follow);
      return () => {
        clearInterval(timer);
        document.removeEventListener('visibilitychange', follow);
      };
    },
    Date.now(),
  );
}
