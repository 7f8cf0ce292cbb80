import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { Outside } from '../signals/outside.ts';

export interface RequestState<T> {
  /** The last good value; undefined before there was one. */
  readonly value: T | undefined;
  readonly isPending: boolean;
  /** Why the last try failed, until one succeeds. */
  readonly error: Error | undefined;
  /** The HTTP status of the last answer; 0 before. */
  readonly status: number;
}

/** Reads an answer. What it tells meanwhile is shown before it is complete. */
export type Reader<T> = (answer: Response, tell: (value: T) => void) => Promise<T>;

export interface RequestOptions<T> extends Omit<RequestInit, 'signal'> {
  /** How the answer is read: `json` unless given; `lines` and `serverEvents` of this entry give a growing list. */
  readonly as?: 'json' | 'text' | Reader<T>;
  /** How often a failed request is tried again, each time after twice the pause; 0 unless given. */
  readonly retries?: number;
  /** The first pause, in milliseconds; 500 unless given. */
  readonly pause?: number;
  /** Asks again so many milliseconds after an answer. */
  readonly every?: number;
  /** Gives up a request after so many milliseconds. */
  readonly timeout?: number;
}

/** A request whose state can be read and tracked. */
export interface RequestSignal<T> extends Readable<RequestState<T>>, RequestState<T> {
  /** Asks again now. */
  again(): void;
}

/** An answer that says no. */
export class StatusError extends Error {
  override readonly name = 'StatusError';

  constructor(
    readonly status: number,
    readonly url: string,
  ) {
    super(`${url} answered with status ${status}.`);
  }
}

/** What an answer, or the lack of one, changes. */
type Outcome = Partial<RequestState<never>> & Pick<RequestState<never>, 'status'>;

/** A request on its way, for all who ask the same. */
interface Flight {
  readonly control: AbortController;
  readonly outcome: Promise<Outcome>;
  askers: number;
}

const flights = new Map<unknown, Flight>();

class Asking<T> extends Outside<RequestState<T>> implements RequestSignal<T> {
  again = (): void => {};

  get value(): T | undefined {
    return this.get().value;
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

  say(part: Partial<RequestState<T>>): void {
    this.set({ ...this.current, ...part });
  }
}

/**
 * Asks for something while a view shows it. The address is a function of signals and properties: when it changes, what is
 * on its way is aborted and the new one asked for; null asks for nothing. The last good value stays until there is a
 * better one. Equal requests of several elements, without a body, are sent once.
 *
 * @example weather = request<Weather>(() => this.place && `/weather/${this.place}`, { retries: 3, every: 60_000 });
 */
export function request<T>(
  address: () => string | URL | null | undefined,
  { as = 'json', retries = 0, pause = 500, every, timeout, ...init }: RequestOptions<T> = {},
): RequestSignal<T> {
  /** Gives up what is on its way. */
  let leave: (() => void) | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const asking = new Asking<T>({ value: undefined, isPending: false, error: undefined, status: 0 }, () => {
    let isOver = false;
    let stop = () => {};
    // Its first reader is being evaluated, and may be a computed, which sets nothing.
    queueMicrotask(() => {
      if (!isOver)
        stop = effect(() => {
          const url = address();
          asking.again = () => go(url, 0);
          go(url, 0);
        });
    });
    return () => {
      isOver = true;
      stop();
      go(null, 0);
    };
  });

  const go = (url: string | URL | null | undefined, tries: number): void => {
    clearTimeout(timer);
    leave?.();
    if (!url !== !asking.current.isPending) asking.say({ isPending: !!url });
    if (!url) return;
    const key = typeof as === 'string' && !init.body ? JSON.stringify([url, as, init]) : {};
    let flight = flights.get(key);
    if (!flight) {
      const control = new AbortController();
      flight = { control, outcome: fly(String(url), control), askers: 0 };
      flights.set(key, flight);
    }
    const { control, outcome } = flight;
    flight.askers++;
    const own = (leave = () => {
      leave = undefined;
      if (--flight.askers) return;
      flights.delete(key);
      control.abort();
    });
    outcome.then(part => {
      // An answer that comes too late, or was given up, is nobody's.
      if (leave !== own) return;
      own();
      const isPending = !!part.error && tries < retries;
      asking.say({ ...part, isPending });
      const wait = isPending ? pause * 2 ** tries : every;
      if (wait !== undefined) timer = setTimeout(go, wait, url, isPending ? tries + 1 : 0);
    });
  };

  const fly = async (url: string, control: AbortController): Promise<Outcome> => {
    let status = 0;
    const late =
      timeout && setTimeout(() => control.abort(new Error(`${url} gave no answer in ${timeout} ms.`)), timeout);
    try {
      const answer = await fetch(url, { ...init, signal: control.signal });
      status = answer.status;
      if (!answer.ok) throw new StatusError(status, url);
      const tell = (value: T) => asking.say({ value, error: undefined });
      const value = await (typeof as === 'string' ? answer[as]() : as(answer, tell));
      return { value: value as never, status, error: undefined };
    } catch (error) {
      return { error: error as Error, status };
    } finally {
      clearTimeout(late);
    }
  };
  return asking;
}
