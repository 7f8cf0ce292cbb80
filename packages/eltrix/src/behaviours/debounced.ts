import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { outside } from '../signals/outside.ts';
import { untracked } from '../signals/state.ts';

/**
 * The value of a live function, once it has not changed for so many milliseconds: for addresses of requests, and for
 * effects that should not follow each key. The first value is there at once. It follows while something reads it.
 *
 * @param ms how long a value has to stay, in milliseconds.
 * @example
 * wanted = debounced(() => this.search, 300);
 * found = request<Hive[]>(() => `/hives?q=${encodeURIComponent(this.wanted.get())}`);
 */
export function debounced<T>(read: () => T, ms: number): Readable<T> {
  let isFirst = true;
  return outside<T>(
    undefined as T,
    set => {
      let timer: ReturnType<typeof setTimeout> | undefined;
      isFirst = true;
      // Not part of the effect that may be reading: it ends with the last reader.
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
    true,
  );
}
