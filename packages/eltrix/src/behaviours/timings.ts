import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

/**
 * The last performance entries of some types ("resource", "measure", "longtask", …), at most `keep` of them, 100
 * unless given.
 * @example slow = watchTimings(['longtask'], 20);  // ${() => this.slow.get().length}
 */
export function watchTimings(types: readonly string[], keep = 100): Readable<readonly PerformanceEntry[]> {
  return outside<readonly PerformanceEntry[]>([], set => {
    let entries: readonly PerformanceEntry[] = [];
    const known = types.filter(type => PerformanceObserver.supportedEntryTypes.includes(type));
    const observers = known.map(type => {
      const observer = new PerformanceObserver(list => {
        entries = [...entries, ...list.getEntries()].slice(-keep);
        set(entries);
      });
      observer.observe({ type, buffered: true });
      return observer;
    });
    return () => {
      for (const observer of observers) observer.disconnect();
    };
  });
}
