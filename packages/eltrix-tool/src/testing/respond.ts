/** Answers requests of the page, instead of a server. */
import { kindOf } from '../../../eltrix/src/signals/kind-of.ts';
import { atEnd } from './host.ts';

/** A `Response`, a text, a status (three digits), or a value that is sent as JSON; or a function that returns one. */
export type Answer = Response | string | number | object | null;
export type Answering = Answer | ((request: Request) => Answer | Promise<Answer>);

interface Rule {
  /** @param address without a fragment, which no request has. */
  readonly matches: (address: string) => boolean;
  readonly answer: Answering;
}

let rules: Rule[] = [];
let undo: (() => void) | undefined;

/**
 * Answers requests of the page by `fetch` or `XMLHttpRequest`, until the test ends. Later answers take precedence;
 * other requests go to the network.
 *
 * @param url a URL, relative to the page or absolute, or a pattern for absolute URLs.
 * @returns the received requests, in order.
 * @example respond('/api/hives', [{ name: 'Rosemary' }]);
 * @example respond(/\/api\//, request => (request.method === 'POST' ? 201 : []));
 */
export function respond(url: string | URL | RegExp, answer: Answering): readonly Request[] {
  if (typeof url !== 'string' && !(url instanceof URL) && !(url instanceof RegExp))
    throw new TypeError(
      `(respond-url): respond() takes a URL or a pattern, and an answer; ${kindOf(url)} came. Write respond('/api/hives', [{ name: 'Rosemary' }]).`,
    );
  const requests: Request[] = [];
  const whole = url instanceof RegExp ? undefined : withoutFragment(new URL(url, document.baseURI));
  const rule: Rule = {
    // Unlike test(), search() begins at the start, also with the flag g.
    matches: address => (url instanceof RegExp ? address.search(url) >= 0 : address === whole),
    answer: async (request: Request) => {
      requests.push(request);
      return typeof answer === 'function' ? answer(request) : answer;
    },
  };
  rules.unshift(rule);
  undo ??= replace();
  atEnd(() => {
    rules = rules.filter(other => other !== rule);
    if (rules.length > 0) return;
    undo?.();
    undo = undefined;
  });
  return requests;
}

function withoutFragment(address: string | URL): string {
  const url = new URL(address, document.baseURI);
  url.hash = '';
  return url.href;
}

const ruleFor = (address: string) => rules.find(({ matches }) => matches(withoutFragment(address)));

function replace(): () => void {
  const { fetch: realFetch, XMLHttpRequest: RealRequest } = globalThis;
  const fetch: typeof globalThis.fetch = async (input, init) => {
    // Node's own requests, in the simulated DOM, know no page.
    const request = new Request(typeof input === 'string' ? new URL(input, document.baseURI) : input, init);
    const rule = ruleFor(request.url);
    if (!rule) return realFetch(input, init);
    request.signal.throwIfAborted();
    const aborted = new Promise<never>((_, reject) =>
      request.signal.addEventListener('abort', () => reject(request.signal.reason as Error), { once: true }),
    );
    return Promise.race([responseOf(rule, request), aborted]);
  };
  Object.assign(globalThis, { fetch, XMLHttpRequest: requestClass(RealRequest) });
  return () => Object.assign(globalThis, { fetch: realFetch, XMLHttpRequest: RealRequest });
}

async function responseOf({ answer }: Rule, request: Request): Promise<Response> {
  const given = await (answer as (request: Request) => Promise<Answer>)(request);
  if (given instanceof Response) return given.clone();
  if (typeof given === 'string') return new Response(given);
  if (typeof given !== 'number') return Response.json(given);
  if (!Number.isInteger(given) || given < 200 || given > 599)
    throw new RangeError(`respond() takes a status from 200 to 599, and ${given} came.`);
  return new Response(null, { status: given });
}

/** `XMLHttpRequest` whose answered requests go through the `fetch` above, by a `blob:` URL. */
function requestClass(Real: typeof XMLHttpRequest): typeof XMLHttpRequest {
  return class extends Real {
    #method = 'GET';
    #address = '';
    #headers = new Headers();
    #answered: Response | undefined;
    /** The pending answer. */
    #pending: Promise<Response> | undefined;
    /** The state of a request that was not sent, after it has ended without an answer. */
    #ended: number | undefined;

    override open(method: string, url: string | URL, async = true, ...rest: [string?, string?]): void {
      [this.#method, this.#address, this.#headers] = [method, new URL(url, document.baseURI).href, new Headers()];
      this.#answered = this.#pending = this.#ended = undefined;
      super.open(method, url, async, ...rest);
    }

    override setRequestHeader(name: string, value: string): void {
      this.#headers.append(name, value);
      super.setRequestHeader(name, value);
    }

    override send(body?: XMLHttpRequestBodyInit | Document | null): void {
      const rule = ruleFor(this.#address);
      if (!rule) return super.send(body);
      const hasBody = !/^(?:GET|HEAD)$/i.test(this.#method) && body && !(body instanceof Document);
      const request = new Request(this.#address, {
        method: this.#method,
        headers: this.#headers,
        ...(hasBody ? { body } : {}),
      });
      const answer = responseOf(rule, request);
      this.#pending = answer;
      answer.then(
        async response => {
          const body = await response.clone().blob();
          if (this.#pending !== answer) return;
          this.#pending = undefined;
          this.#answered = response;
          const address = URL.createObjectURL(body);
          super.open('GET', address);
          super.send();
          URL.revokeObjectURL(address);
        },
        () => this.#pending === answer && this.#end('error', 4),
      );
    }

    override abort(): void {
      super.abort();
      if (this.#pending) this.#end('abort', 0);
    }

    #end(type: string, state: number): void {
      this.#pending = undefined;
      this.#ended = state;
      for (const name of [type, 'loadend']) this.dispatchEvent(new ProgressEvent(name));
    }

    override get readyState(): number {
      return this.#ended ?? super.readyState;
    }

    override get status(): number {
      return this.readyState < 2 ? 0 : (this.#answered?.status ?? super.status);
    }

    override get statusText(): string {
      return this.#answered?.statusText ?? super.statusText;
    }

    override get responseURL(): string {
      return this.#answered && this.readyState > 1 ? this.#address : super.responseURL;
    }

    override getResponseHeader(name: string): string | null {
      return this.#answered ? this.#answered.headers.get(name) : super.getResponseHeader(name);
    }

    override getAllResponseHeaders(): string {
      if (!this.#answered) return super.getAllResponseHeaders();
      return [...this.#answered.headers].map(([name, value]) => `${name}: ${value}\r\n`).join('');
    }
  };
}
