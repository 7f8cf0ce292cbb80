import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { untracked } from '../signals/state.ts';

/**
 * The value of a tracked function after it has not changed for `ms` milliseconds: for URLs of requests, and for
 * effects that should not run at each key. The first value is there at once. It observes only while something depends
 * on it.
 *
 * @param ms how long a value has to stay, in milliseconds.
 * @example
 * wanted = debounced(() => this.search, 300);
 * found = request<Hive[]>(() => `/hives?q=${encodeURIComponent(this.wanted.get())}`);
 */
export function debounced<T>(read: () => T, ms: number): Readable<T> {
  let isFirst = true;
  return asked<T>(
    read,
    set => {
      let timer: ReturnType<typeof setTimeout> | undefined;
      isFirst = true;
      // A separate owner: it must not end with the effect that reads it, but with the last subscriber.
      const stop = untracked(() =>
        effect(() => {
          const value = read();
          if (isFirst) set(value);
          else timer = setTimeout(set, ms, value);
          isFirst = false;
          return () => clearTimeout(timer);
        }),
      );
      return stop;
    },
    undefined as T,
    true,
  );
}
