import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { follow } from '../signals/outside.ts';
import { Cell } from '../signals/signal.ts';
import { state, untracked } from '../signals/state.ts';

export interface RequestState<T> {
  /** The last value; undefined before the first one. */
  readonly value: T | undefined;
  /** Whether an answer is pending, or a failed request waits for its next try. */
  readonly isPending: boolean;
  /** The URL that `value` comes from; undefined before the first value. */
  readonly from: string | undefined;
  /**
   * The error of the last try; undefined after a success. After a status that is not a success, `answer` is the
   * response with its body unread.
   */
  readonly error: (Error & { readonly answer?: Response }) | undefined;
  /** The HTTP status of the last answer; 0 before the first one. */
  readonly status: number;
}

/** Reads an answer. It may report values before the answer is complete. */
export interface Reader<T> {
  /** @param last the value that was read from the same URL before, for readers that continue. */
  (answer: Response, report: (value: T) => void, last?: T): Promise<T>;
  /** Headers of the next request, for readers that continue a value. */
  readonly continueWith?: (last: T) => Record<string, string>;
}

/** Sends a request, like `fetch`. */
export type Send = (url: string | URL, init: RequestInit & { readonly signal: AbortSignal }) => Promise<Response>;

/**
 * The delay before the next try, in milliseconds; undefined, or more than 24 days: no further try. It is called with
 * the number of failed tries, the error of the last one, and the HTTP status, 0 without an answer.
 */
export type Again = (error: Error | undefined, tries: number, status: number) => number | undefined;

export interface RequestOptions<T> extends Omit<RequestInit, 'signal'> {
  /** How the answer is read: `answer => answer.json()` unless given. `lines` and `serverEvents` give a growing list. */
  readonly as?: Reader<T> | undefined;
  /** How the request is sent: `fetch` unless given; `shared` and `within` of this entry, or a function. */
  readonly send?: Send | undefined;
  /** Whether and when to request again: `retry` of this entry, or a function such as `() => 60_000`. */
  readonly again?: Again | undefined;
}

/** A request with a tracked state. */
export interface RequestSignal<T> extends Readable<RequestState<T>>, RequestState<T> {
  /** Sends the request again now. */
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

/** The first URL. An error is reported later, when the request is sent. */
function peeked(address: () => string | URL | null | undefined): string | URL | null | undefined {
  try {
    return untracked(address);
  } catch {
    return null;
  }
}

/**
 * Requests data while a view depends on it. The URL is a function of signals and properties. After a change the
 * pending request is aborted and the new URL requested; null requests nothing. The last value stays until a newer one
 * arrives.
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
      /** Stops the request; null without subscribers. */
      let stop: (() => void) | null | undefined;
      // The initial state is pending, or the answer that a server has sent.
      const first = peeked(address);
      const requests = __RENDERED__ ? state.requests : undefined;
      let known = __RENDERED__ && first ? requests?.find(String(first)) : undefined;
      set({ ...asking.current, isPending: !known && !!first, ...(__RENDERED__ && known) } as RequestState<T>);
      // In a microtask: the same task may still set signals that the URL depends on.
      queueMicrotask(() => {
        if (stop !== null)
          stop = effect(() => {
            let url: string | URL | null | undefined;
            try {
              url = address();
            } catch (error) {
              // The URL's dependencies are tracked: it may become a URL later.
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
                (answered as Promise<boolean>).then(isDone => {
                  if (isDone) return asking.current;
                  const { error } = asking.current;
                  if (error) throw error;
                  return undefined;
                }),
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

  /** @returns whether a good answer has arrived, in time. */
  const go = async (url: string | URL | null | undefined, tries = 0): Promise<boolean> => {
    clearTimeout(timer);
    control?.abort();
    const { signal } = (control = new AbortController());
    const say = (part: Partial<RequestState<T>>) => {
      // A newer request has started, or this one was stopped: drop the result.
      if (!signal.aborted) set({ ...asking.current, ...part });
    };
    const report = (value: T) => say({ value, from: String(url), error: undefined });
    // `again()` may be called without subscribers.
    if (!asking.targets) url = null;
    say({ isPending: !!url });
    if (!url) return false;
    let wait: number | undefined;
    let error: Error | undefined;
    let status = 0;
    try {
      // Received parts of a stream are kept.
      const { value, from } = asking.current;
      const last = as.continueWith && from === String(url) ? value : undefined;
      const headers = new Headers(init.headers);
      for (const [name, text] of Object.entries(last === undefined ? {} : as.continueWith!(last)))
        headers.set(name, text);
      const answer = await send(url, { ...init, headers, signal });
      status = answer.status;
      say({ status });
      if (!answer.ok)
        throw Object.assign(new Error(`${url} answered with status ${status}.`), {
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
    // A timer with a longer delay would end at once (HTML §8.6).
    const isTimed = wait! >= 0 && wait! < 2 ** 31;
    say(error ? { error, isPending: isTimed } : { isPending: false });
    const { aborted } = signal;
    if (isTimed && !aborted) timer = setTimeout(go, wait, url, error ? tries + 1 : 0);
    // A request that repeats is also sent when the network is back.
    if (again && error && status === 0 && !aborted && globalThis.window)
      window.addEventListener('online', () => go(url), { once: true, signal });
    return !error && !aborted;
  };
  return asking;
}
