import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { follow } from '../signals/outside.ts';
import { Cell } from '../signals/signal.ts';
import { state, untracked } from '../signals/state.ts';

export interface RequestState<T> {
  /** The last good value; undefined before there was one. */
  readonly value: T | undefined;
  /** Whether an answer is awaited; also while a request that failed waits to be tried again. */
  readonly isPending: boolean;
  /** Whose answer `value` is; undefined before there was one. */
  readonly from: string | undefined;
  /** Why the last try failed, until one succeeds. With a status that is no success, `answer` is the response: its body can be read. */
  readonly error: (Error & { readonly answer?: Response }) | undefined;
  /** The HTTP status of the last answer; 0 before. */
  readonly status: number;
}

/** Reads an answer. It may report values before the answer is complete. */
export interface Reader<T> {
  /** @param last what a reader that continues had read of the same address before. */
  (answer: Response, report: (value: T) => void, last?: T): Promise<T>;
  /** Headers with which the next request asks for what is missing, where the reader continues what it has read. */
  readonly continueWith?: (last: T) => Record<string, string>;
}

/** What sends a request, as `fetch` does. */
export type Send = (url: string | URL, init: RequestInit & { readonly signal: AbortSignal }) => Promise<Response>;

/**
 * In how many milliseconds to ask again after so many tries that failed and, if this one has, its error; undefined: not at
 * all. `status` is that of the answer, 0 if there was none.
 */
export type Again = (error: Error | undefined, tries: number, status: number) => number | undefined;

export interface RequestOptions<T> extends Omit<RequestInit, 'signal'> {
  /**
   * How the answer is read: `answer => answer.json()` unless given; `lines` and `serverEvents` of this entry give a growing
   * list.
   */
  readonly as?: Reader<T>;
  /** What sends it: `fetch` unless given; `shared` and `within` of this entry, or your own. */
  readonly send?: Send;
  /** Whether and when to ask again: `retry` of this entry, or your own, as `() => 60_000`. */
  readonly again?: Again;
}

/** A request whose state can be read and tracked. */
export interface RequestSignal<T> extends Readable<RequestState<T>>, RequestState<T> {
  /** Asks again now. */
  again(): void;
}

class Asking<T> extends Cell<RequestState<T>> implements RequestSignal<T> {
  again(): void {}

  get value(): T | undefined {
    return this.get().value;
  }

  get from(): string | undefined {
    return this.get().from;
  }

  get isPending(): boolean {
    return this.get().isPending;
  }

  get error(): Error | undefined {
    return this.get().error;
  }

  get status(): number {
    return this.get().status;
  }
}

/** The first address; an error is reported later, when the request is made. */
function peeked(address: () => string | URL | null | undefined): string | URL | null | undefined {
  try {
    return untracked(address);
  } catch {
    return null;
  }
}

/**
 * Asks for something while a view shows it. The address is a function of signals and properties: when it changes, what is
 * on its way is aborted and the new one asked for; null asks for nothing. The last good value stays until there is a
 * better one.
 *
 * @example weather = request<Weather>(() => this.place && `/weather/${this.place}`, { send: shared, again: retry(3) });
 */
export function request<T>(
  address: () => string | URL | null | undefined,
  { as = answer => answer.json(), send = fetch, again, ...init }: RequestOptions<T> = {},
): RequestSignal<T> {
  let control: AbortController | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const asking = new Asking<T>({ isPending: false, status: 0 } as RequestState<T>);
  const set = follow(
    asking,
    set => {
      /** Stops; null once nothing reads it any more. */
      let stop: (() => void) | null | undefined;
      // What is asked for shows as such from the beginning, or as the answer that a server has sent.
      const first = peeked(address);
      const requests = __RENDERED__ ? state.requests : undefined;
      let known = __RENDERED__ && first ? requests?.find(String(first)) : undefined;
      set({ ...asking.current, isPending: !known && !!first, ...(__RENDERED__ && known) } as RequestState<T>);
      // Its first reader is being evaluated, and what it goes by may be set in the same task.
      queueMicrotask(() => {
        if (stop !== null)
          stop = effect(() => {
            let url: string | URL | null | undefined;
            try {
              url = address();
            } catch (error) {
              // What it has read is followed: it may have an address then.
              void go(null);
              set({ ...asking.current, error: error as Error });
              return;
            }
            asking.again = () => void go(url);
            const isKnown = __RENDERED__ && known && String(url) === String(first);
            if (__RENDERED__) known = undefined;
            const answered = isKnown || go(url);
            if (__RENDERED__ && url && !isKnown)
              requests?.sent?.(
                String(url),
                (answered as Promise<boolean>).then(isDone => (isDone ? asking.current : undefined)),
              );
          });
      });
      return () => {
        stop?.();
        stop = null;
        go(null);
      };
    },
    true,
  );

  /** @returns whether there was a good answer, and in time. */
  const go = async (url: string | URL | null | undefined, tries = 0): Promise<boolean> => {
    clearTimeout(timer);
    control?.abort();
    const { signal } = (control = new AbortController());
    const say = (part: Partial<RequestState<T>>) => {
      // A newer request has started, or this one was stopped: drop the result.
      if (!signal.aborted) set({ ...asking.current, ...part });
    };
    const report = (value: T) => say({ value, from: String(url), error: undefined });
    // `again()` may be called when nothing reads it any more.
    if (!asking.targets) url = null;
    say({ isPending: !!url });
    if (!url) return false;
    let wait: number | undefined;
    let error: Error | undefined;
    let status = 0;
    try {
      // What has come of a stream need not come again.
      const { value, from } = asking.current;
      const last = as.continueWith && from === String(url) ? value : undefined;
      const headers = new Headers(init.headers);
      for (const [name, text] of Object.entries(last === undefined ? {} : as.continueWith!(last)))
        headers.set(name, text);
      const answer = await send(url, { ...init, headers, signal });
      status = answer.status;
      say({ status });
      if (!answer.ok)
        throw Object.assign(new Error(__DEV__ ? `${url} answered with status ${status}.` : `HTTP ${status}`), {
          answer,
        });
      report(await as(answer, report, last));
    } catch (reason) {
      error = reason as Error;
    }
    try {
      wait = again?.(error, tries, status);
    } catch (reason) {
      error = reason as Error;
    }
    say(error ? { error, isPending: wait! >= 0 } : { isPending: false });
    const { aborted } = signal;
    if (wait! >= 0 && !aborted) timer = setTimeout(go, wait, url, error ? tries + 1 : 0);
    // Who asks again does so as soon as there is a network, too.
    if (again && error && status === 0 && !aborted && globalThis.window)
      window.addEventListener('online', () => go(url), { once: true, signal });
    return !error && !aborted;
  };
  return asking;
}
