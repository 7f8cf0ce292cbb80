/** Requests that change data: the state of a form while it is sent. */

import type { Readable } from '../signals/computed.ts';
import { Cell } from '../signals/signal.ts';
import type { Send } from './request.ts';

export interface SubmissionState<T> {
  /** The value of the last answer; undefined before the first one. */
  readonly value: T | undefined;
  /** Whether an answer is pending. */
  readonly isPending: boolean;
  /** The error of the last try. After a status that is not a success, `answer` is the response with its body unread. */
  readonly error: (Error & { readonly answer?: Response }) | undefined;
  /** The HTTP status of the last answer; 0 before the first one. */
  readonly status: number;
}

/** The body: any value that `fetch` accepts, or a list or plain object, which is sent as JSON. */
export type SubmissionBody = BodyInit | object | null;

export interface SubmissionOptions<T> extends Omit<RequestInit, 'body' | 'signal'> {
  /** How the answer is read: as JSON unless given, and as undefined if it has no content (status 204 or 205). */
  readonly as?: ((answer: Response) => Promise<T>) | undefined;
  /** Converts a form's data before it is sent: `data => Object.fromEntries(data)` sends JSON. */
  readonly body?: ((data: FormData) => SubmissionBody) | undefined;
  /** How the request is sent: `fetch` unless given. */
  readonly send?: Send | undefined;
}

/** A submission with a tracked state. */
export interface Submission<T> extends Readable<SubmissionState<T>>, SubmissionState<T> {
  /**
   * Sends the request. While an answer is pending it sends nothing and returns the pending promise.
   * @returns the value of the answer; undefined after a failure, see `error`, and after `abort`.
   */
  send(body?: SubmissionBody, address?: string | URL): Promise<T | undefined>;
  /**
   * A listener for `submit` that sends the form's data instead of the browser. `<form onsubmit=${this.saving.submit}>`
   */
  readonly submit: (event: SubmitEvent) => Promise<T | undefined>;
  /** Aborts the pending request, whose answer is ignored; the next one can be sent at once. */
  abort(): void;
}

const nothing: SubmissionState<never> = { value: undefined, isPending: false, error: undefined, status: 0 };

/** What is sent. */
interface Message {
  readonly url: string | URL | undefined;
  readonly body: SubmissionBody;
  readonly method?: string | undefined;
}

class Sending<T> extends Cell<SubmissionState<T>> implements Submission<T> {
  /** While an answer is pending. */
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

  send(body: SubmissionBody = null, address?: string | URL): Promise<T | undefined> {
    return this.#begin(() => ({ url: address ?? this.#address?.(), body }));
  }

  #begin(message: () => Message): Promise<T | undefined> {
    if (!this.#control) this.#answer = this.#send(message);
    return this.#answer!;
  }

  async #send(message: () => Message): Promise<T | undefined> {
    const { as = read<T>, body: _, send = fetch, headers, ...init } = this.#options;
    const control = new AbortController();
    const { signal } = control;
    this.#control = control;
    this.set({ ...this.current, isPending: true, error: undefined });
    let status = 0;
    try {
      const { url, body: given, method = 'POST' } = message();
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
      const answer = await send(url, { method, ...init, headers: all, body, signal });
      status = answer.status;
      if (!answer.ok) throw Object.assign(new Error(`${url} answered with status ${status}.`), { answer });
      const value = await as(answer);
      this.#end(control, { value, status });
      return signal.aborted ? undefined : value;
    } catch (reason) {
      this.#end(control, { error: reason as Error, status });
      return undefined;
    }
  }

  readonly submit = (event: SubmitEvent): Promise<T | undefined> => {
    event.preventDefault();
    const form = event.target as HTMLFormElement;
    const data = new FormData(form, event.submitter);
    const { body = data => data } = this.#options;
    // Attributes are read, since a field with that name hides the property. Those of the button come first, and an
    // empty action is the document (HTML §4.10.22.3, form submission algorithm).
    const own = (name: string) => event.submitter?.getAttribute(`form${name}`) ?? form.getAttribute(name);
    const action = this.#address ? undefined : new URL(own('action') || document.URL, document.baseURI);
    const method = own('method')?.toUpperCase();
    return this.#begin(() => ({
      url: action ?? this.#address?.(),
      body: body(data),
      method: method === 'GET' || method === 'DIALOG' ? undefined : method,
    }));
  };

  /** Who hears of the end may send again at once. */
  #end(control: AbortController, state?: Partial<SubmissionState<T>>): void {
    if (this.#control !== control) return;
    this.#control = undefined;
    this.set({ ...this.current, isPending: false, ...state });
  }

  abort(): void {
    const control = this.#control;
    if (!control) return;
    this.#end(control);
    control.abort();
  }
}

/** Whether a body is sent as JSON: a list or a plain object. */
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
 * Sends a request that changes the server's data, and tracks its state. It sends only when it is called, continues
 * when the element is disconnected, and never sends twice at the same time.
 *
 * @param address where to; without it the `formaction` of the button that was pressed, or the form's `action`.
 * @param options as for `fetch`; the method is POST, or that of the button or the form.
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
