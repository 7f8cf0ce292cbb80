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

interface Flight {
  readonly answer: Promise<unknown>;
  readonly control: AbortController;
  count: number;
}

/** Equal requests that are on their way, by what they ask. */
const flights = new Map<string, Flight>();

class Asking<T> extends Outside<RequestState<T>> implements RequestSignal<T> {
  /** Aborts what is on its way. */
  #leave: (() => void) | undefined;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #ask: (() => void) | undefined;

  constructor(address: () => string | URL | null | undefined, options: RequestOptions<T>) {
    super({ value: undefined, isPending: false, error: undefined, status: 0 }, () => {
      let stop: (() => void) | undefined;
      let over = false;
      // Its first reader is being evaluated, and may be a computed, which sets nothing.
      queueMicrotask(() => {
        if (over) return;
        stop = effect(() => {
          const url = address();
          this.#ask = () => (url ? this.#go(String(url), options, 0) : this.#rest());
          this.#ask();
        });
      });
      return () => {
        over = true;
        stop?.();
        this.#rest();
      };
    });
  }

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

  again(): void {
    this.#ask?.();
  }

  #say(part: Partial<RequestState<T>>): void {
    this.set({ ...this.peek(), ...part });
  }

  #rest(): void {
    clearTimeout(this.#timer);
    this.#leave?.();
    this.#leave = undefined;
    if (this.peek().isPending) this.#say({ isPending: false });
  }

  #go(url: string, options: RequestOptions<T>, tries: number): void {
    clearTimeout(this.#timer);
    this.#leave?.();
    this.#say({ isPending: true });
    const { retries = 0, pause = 500, every } = options;
    const flight = board<T>(url, options, value => this.#say({ value: value as T, error: undefined }));
    let here = true;
    this.#leave = () => {
      here = false;
      flight.leave();
    };
    const later = (ms: number, tries: number) => {
      this.#timer = setTimeout(() => this.#go(url, options, tries), ms);
    };
    flight.answer.then(
      ({ value, status }) => {
        if (!here) return;
        this.#leave = undefined;
        this.#say({ value: value as T, status, error: undefined, isPending: false });
        if (every !== undefined) later(every, 0);
      },
      (error: Error) => {
        // An answer that comes too late, or was given up, is nobody's.
        if (!here) return;
        this.#leave = undefined;
        const again = tries < retries;
        this.#say({ error, status: error instanceof StatusError ? error.status : 0, isPending: again });
        if (again) later(pause * 2 ** tries, tries + 1);
        else if (every !== undefined) later(every, 0);
      },
    );
  }
}

interface Answer {
  readonly value: unknown;
  readonly status: number;
}

/** Joins an equal request that is on its way, or sends one. */
function board<T>(
  url: string,
  { as = 'json', retries: _, pause: __, every: ___, timeout, ...init }: RequestOptions<T>,
  tell: (value: unknown) => void,
): { answer: Promise<Answer>; leave(): void } {
  const body = init.body === undefined || init.body === null || typeof init.body === 'string';
  const key = body && typeof as === 'string' ? JSON.stringify([url, as, init]) : undefined;
  let flight = key === undefined ? undefined : flights.get(key);
  if (!flight) {
    const control = new AbortController();
    const timer =
      timeout === undefined
        ? undefined
        : setTimeout(() => control.abort(new Error(`${url} gave no answer in ${timeout} ms.`)), timeout);
    const answer = read(url, as, { ...init, signal: control.signal }, tell).finally(() => {
      clearTimeout(timer);
      if (key !== undefined) flights.delete(key);
    });
    flight = { answer, control, count: 0 };
    if (key !== undefined) flights.set(key, flight);
  }
  const { answer, control } = flight;
  flight.count++;
  const own = flight;
  return {
    answer: answer as Promise<Answer>,
    leave() {
      if (--own.count > 0) return;
      if (key !== undefined) flights.delete(key);
      control.abort();
    },
  };
}

async function read<T>(
  url: string,
  as: NonNullable<RequestOptions<T>['as']>,
  init: RequestInit,
  tell: (value: unknown) => void,
): Promise<Answer> {
  const answer = await fetch(url, init);
  const { status } = answer;
  if (!answer.ok) throw new StatusError(status, url);
  return { value: await (typeof as === 'function' ? as(answer, tell) : answer[as]()), status };
}

/**
 * Asks for something while a view shows it. The address is a function of signals and properties: when it changes, what is
 * on its way is aborted and the new one asked for; null asks for nothing. The last good value stays until there is a
 * better one. Equal requests of several elements are sent once.
 *
 * @example weather = request<Weather>(() => this.place && `/weather/${this.place}`, { retries: 3, every: 60_000 });
 */
export function request<T>(
  address: () => string | URL | null | undefined,
  options: RequestOptions<T> = {},
): RequestSignal<T> {
  return new Asking(address, options);
}
