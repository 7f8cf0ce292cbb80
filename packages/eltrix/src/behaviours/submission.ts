/** Requests that change something: the state of a form while it is sent. */

import type { Readable } from '../signals/computed.ts';
import { Cell } from '../signals/signal.ts';
import type { Send } from './request.ts';

export interface SubmissionState<T> {
  /** The last answer, read; undefined before there was one. */
  readonly value: T | undefined;
  /** Whether an answer is awaited. */
  readonly isPending: boolean;
  /** Why the last one failed. With a status that is no success, `answer` is the response: its body can be read. */
  readonly error: (Error & { readonly answer?: Response }) | undefined;
  /** The HTTP status of the last answer; 0 before. */
  readonly status: number;
}

/** What is sent: as `fetch` takes it, or a list or record that is sent as JSON. */
export type SubmissionBody = BodyInit | object | null;

export interface SubmissionOptions<T> extends Omit<RequestInit, 'body' | 'signal'> {
  /** How the answer is read; unless given as JSON, and as undefined if it has no content (status 204 or 205). */
  readonly as?: (answer: Response) => Promise<T>;
  /** What a form sends in place of its FormData: `data => Object.fromEntries(data)` sends JSON. */
  readonly body?: (data: FormData) => SubmissionBody;
  /** What sends it: `fetch` unless given. */
  readonly send?: Send;
}

/** A submission whose state can be read and tracked. */
export interface Submission<T> extends Readable<SubmissionState<T>>, SubmissionState<T> {
  /**
   * Sends. While an answer is awaited it sends nothing and returns the promise of that answer.
   * @returns the answer as it was read; undefined if it failed; see `error`.
   */
  send(body?: SubmissionBody, address?: string | URL): Promise<T | undefined>;
  /** Listener for `submit`: sends the form's data in place of the browser. `<form onsubmit=${this.saving.submit}>` */
  readonly submit: (event: SubmitEvent) => Promise<T | undefined>;
  /** Gives up what is on its way. */
  abort(): void;
}

const nothing: SubmissionState<never> = { value: undefined, isPending: false, error: undefined, status: 0 };

class Sending<T> extends Cell<SubmissionState<T>> implements Submission<T> {
  #control: AbortController | undefined;
  #answer: Promise<T | undefined> | undefined;
  readonly #address: (() => string | URL) | undefined;
  readonly #options: SubmissionOptions<T>;

  constructor(address: (() => string | URL) | undefined, options: SubmissionOptions<T>) {
    super(nothing);
    this.#address = address;
    this.#options = options;
  }

  get value(): T | undefined {
    return this.get().value;
  }

  get isPending(): boolean {
    return this.get().isPending;
  }

  get error(): SubmissionState<T>['error'] {
    return this.get().error;
  }

  get status(): number {
    return this.get().status;
  }

  send(body: SubmissionBody = null, address?: string | URL, method?: string): Promise<T | undefined> {
    this.#answer ??= this.#send(body, address, method).finally(() => {
      this.#answer = undefined;
    });
    return this.#answer;
  }

  async #send(given: SubmissionBody, address: string | URL | undefined, method?: string): Promise<T | undefined> {
    const { as = read<T>, body: _, send = fetch, headers, ...init } = this.#options;
    const { signal } = (this.#control = new AbortController());
    this.set({ ...this.current, isPending: true, error: undefined });
    let status = 0;
    try {
      const url = address ?? this.#address?.();
      if (url === undefined)
        throw new TypeError(
          __DEV__
            ? '(submission-address): there is no address to send to. Write submission(() => "/hives"), or give the form an action.'
            : 'submission-address',
        );
      const isJson = isPlain(given);
      const all = new Headers(headers);
      if (isJson && !all.has('content-type')) all.set('content-type', 'application/json');
      const body = isJson ? JSON.stringify(given) : (given as BodyInit | null);
      const answer = await send(url, { method: method ?? 'POST', ...init, headers: all, body, signal });
      status = answer.status;
      if (!answer.ok)
        throw Object.assign(new Error(__DEV__ ? `${url} answered with status ${status}.` : `HTTP ${status}`), {
          answer,
        });
      const value = await as(answer);
      this.set({ value, isPending: false, error: undefined, status });
      return value;
    } catch (reason) {
      const error = signal.aborted ? undefined : (reason as Error);
      this.set({ ...this.current, isPending: false, error, status });
      return undefined;
    }
  }

  readonly submit = (event: SubmitEvent): Promise<T | undefined> => {
    event.preventDefault();
    const form = event.target as HTMLFormElement;
    const data = new FormData(form, event.submitter);
    const { body = data => data } = this.#options;
    // An attribute, since a field of that name hides the property.
    const action = this.#address ? undefined : new URL(form.getAttribute('action') ?? '', document.baseURI);
    const method = form.getAttribute('method')?.toUpperCase();
    return this.send(body(data), action, method === 'GET' || method === 'DIALOG' ? undefined : method);
  };

  abort(): void {
    this.#control?.abort();
  }
}

/** Whether something is sent as JSON: a list or a plain record. */
function isPlain(body: SubmissionBody): boolean {
  if (typeof body !== 'object' || body === null) return false;
  const prototype: unknown = Object.getPrototypeOf(body);
  return Array.isArray(body) || prototype === Object.prototype || prototype === null;
}

async function read<T>(answer: Response): Promise<T> {
  if (answer.status === 204 || answer.status === 205) return undefined as T;
  return (await answer.json()) as T;
}

/**
 * Sends something that changes the server's data, and shows how it goes. It sends only on request, goes on when the element is
 * disconnected, and sends nothing twice while an answer is awaited.
 *
 * @param address where to; without it a form's `action`.
 * @param options as for `fetch`; the method is POST, or that of the form.
 * @example
 * saving = submission<Hive>(() => '/hives', { body: data => Object.fromEntries(data) });
 * view() {
 *   return markup`<form onsubmit=${this.saving.submit}><input name="name" required />
 *     <button disabled=${() => this.saving.isPending}>Save</button>
 *     ${() => this.saving.error && markup`<p role="alert">Not saved.</p>`}</form>`;
 * }
 */
export function submission<T = unknown>(
  address?: () => string | URL,
  options: SubmissionOptions<T> = {},
): Submission<T> {
  return new Sending(address, options);
}
