/** Records resources that the page's code takes, and its console output. Installed before any other script. */

import { real as timers } from '../../testing/real-time.ts';
import { quiet } from './quiet.ts';

export type TakenKind = 'listener' | 'timer' | 'animation frame' | 'observer' | 'request';

/** A resource that was not released. */
export interface Taken {
  readonly kind: TakenKind;
  readonly what: string;
  /** Whether it is still active; always, unless given. */
  acts?(): boolean;
}

/** The text that style sheets were given: engines do not serialize declarations that they merged. */
export const sheetTexts = new WeakMap<CSSStyleSheet, string>();

export interface Sent {
  readonly target: EventTarget;
  readonly event: Event;
}

const taken = new Map<unknown, Taken>();
const page = globalThis as unknown as Window & typeof globalThis;

/** Console messages, errors, policy violations, requests to other hosts. */
export const said: { readonly kind: 'console' | 'policy' | 'request'; readonly text: string }[] = [];
/** Synthetic events, in order. */
export const sent: Sent[] = [];
/** Receivers of expected errors. */
let errors: string[] | undefined;

export function takenNow(): ReadonlyMap<unknown, Taken> {
  return new Map(taken);
}

/** Resources that were taken since a moment and not released. */
export function leftSince(before: ReadonlyMap<unknown, Taken>): Taken[] {
  return [...taken].filter(([key, { acts }]) => !before.has(key) && (acts?.() ?? true)).map(([, what]) => what);
}

/** Errors that are reported while a function runs. */
export async function errorsIn(fn: () => unknown): Promise<string[]> {
  const found: string[] = [];
  const before = errors;
  errors = found;
  try {
    await fn();
    await quiet();
  } finally {
    errors = before;
  }
  // Another rule reports the errors of showing specimens.
  return found.filter(error => !said.some(({ text }) => text === error));
}

export const real = {
  ...timers,
  dispatchEvent: EventTarget.prototype.dispatchEvent,
  fetch: page.fetch,
};

const report = (kind: 'console' | 'policy' | 'request', text: unknown) =>
  said.push({ kind, text: String(text).slice(0, 300) });

export function watchPage(): void {
  for (const level of ['log', 'info', 'warn', 'error', 'debug'] as const) {
    console[level] = (...values: unknown[]) => report('console', `console.${level}: ${values.map(String).join(' ')}`);
  }
  const error = (text: string) => (errors ? errors.push(text) : report('console', text));
  page.addEventListener('error', event => {
    // A size changed inside the observer's callback: the observer is notified again in the next frame.
    if (/^ResizeObserver loop/.test(event.message)) return event.preventDefault();
    // Chromium has no message for a DOMException that is reported.
    const thrown = event.error instanceof Error || event.error instanceof DOMException;
    const message = thrown ? `Uncaught ${event.error}` : event.message;
    error(message || `could not be loaded: ${(event.target as HTMLScriptElement | null)?.src ?? ''}`);
    event.preventDefault();
  });
  page.addEventListener('unhandledrejection', event => {
    error(`unhandled: ${String(event.reason)}`);
    event.preventDefault();
  });
  page.document.addEventListener('securitypolicyviolation', event =>
    report('policy', `${event.violatedDirective} ${event.blockedURI}${event.sample ? ` (${event.sample})` : ''}`),
  );
  watchListeners();
  watchTimers();
  watchObservers();
  watchRequests();
  watchSheets();
  watchInternals();
  EventTarget.prototype.dispatchEvent = function (event) {
    sent.push({ target: this, event });
    return real.dispatchEvent.call(this, event);
  };
}

/** Targets that outlive an element: a listener on them keeps the element alive. */
function nameOfTarget(target: EventTarget): string | undefined {
  if (target === page) return 'window';
  if (target === document) return 'document';
  if (target === document.documentElement) return '<html>';
  if (target === document.body) return '<body>';
  if (typeof MediaQueryList === 'function' && target instanceof MediaQueryList) return `matchMedia('${target.media}')`;
  if (typeof VisualViewport === 'function' && target instanceof VisualViewport) return 'visualViewport';
  if ('navigation' in page && target === (page as { navigation?: unknown }).navigation) return 'navigation';
  return undefined;
}

/** Nodes with click handlers, to check keyboard access. */
export const clickable = new WeakMap<EventTarget, Set<string>>();

function watchListeners(): void {
  const { prototype } = EventTarget;
  const { addEventListener: add, removeEventListener: remove } = prototype;
  interface Entry {
    readonly type: string;
    readonly listener: unknown;
    readonly capture: boolean;
    readonly key: object;
  }
  const lists = new WeakMap<EventTarget, Entry[]>();
  const forget = (list: Entry[], entry: Entry) => {
    const at = list.indexOf(entry);
    if (at >= 0) list.splice(at, 1);
    taken.delete(entry.key);
  };
  const captures = (options: unknown) =>
    typeof options === 'object' && options !== null
      ? Boolean((options as { capture?: boolean }).capture)
      : options === true;
  prototype.addEventListener = function (type, listener, options) {
    const target = this ?? page;
    if (listener && target instanceof Element) {
      const types = clickable.get(target) ?? new Set();
      clickable.set(target, types.add(type));
    }
    const name = listener ? nameOfTarget(target) : undefined;
    const { signal, once = false } = typeof options === 'object' && options !== null ? options : {};
    if (name !== undefined && !once && !signal?.aborted) {
      const list = lists.get(target) ?? [];
      lists.set(target, list);
      const capture = captures(options);
      if (!list.some(one => one.type === type && one.listener === listener && one.capture === capture)) {
        const entry = { type, listener, capture, key: {} };
        list.push(entry);
        taken.set(entry.key, { kind: 'listener', what: `a listener of "${type}" on ${name}` });
        if (signal) add.call(signal, 'abort', () => forget(list, entry));
      }
    }
    return add.call(target, type, listener, options);
  };
  prototype.removeEventListener = function (type, listener, options) {
    const target = this ?? page;
    const list = lists.get(target);
    const capture = captures(options);
    const entry = list?.find(one => one.type === type && one.listener === listener && one.capture === capture);
    if (entry) forget(list!, entry);
    return remove.call(target, type, listener, options);
  };
}

function watchTimers(): void {
  const key = (kind: string, id: unknown) => `${kind} ${String(id)}`;
  page.setTimeout = ((fn: TimerHandler, ms?: number, ...args: unknown[]) => {
    const id = real.setTimeout.call(
      page,
      () => {
        taken.delete(key('timer', id));
        if (typeof fn === 'function') fn(...args);
      },
      ms,
    ) as unknown;
    // WebDriver's time limit for a script (§13.2) runs in the page.
    if (ms !== 300_000) taken.set(key('timer', id), { kind: 'timer', what: `setTimeout(…, ${ms ?? 0})` });
    return id;
  }) as never;
  page.setInterval = ((fn: TimerHandler, ms?: number, ...args: unknown[]) => {
    const id = real.setInterval.call(page, fn as never, ms, ...(args as []));
    taken.set(key('timer', id), { kind: 'timer', what: `setInterval(…, ${ms ?? 0})` });
    return id;
  }) as never;
  page.clearTimeout = page.clearInterval = ((id: number) => {
    taken.delete(key('timer', id));
    real.clearTimeout.call(page, id);
  }) as never;
  page.requestAnimationFrame = fn => {
    const id = real.requestAnimationFrame.call(page, time => {
      taken.delete(key('frame', id));
      fn(time);
    });
    taken.set(key('frame', id), { kind: 'animation frame', what: 'requestAnimationFrame()' });
    return id;
  };
  page.cancelAnimationFrame = id => {
    taken.delete(key('frame', id));
    real.cancelAnimationFrame.call(page, id);
  };
}

/** Observers. A mutation observer of a removed tree is inactive; the document keeps the others alive. */
function watchObservers(): void {
  for (const name of ['IntersectionObserver', 'ResizeObserver', 'MutationObserver', 'PerformanceObserver'] as const) {
    const Observer = page[name] as unknown as
      | {
          prototype: {
            observe(target: unknown, options?: unknown): void;
            disconnect(): void;
            unobserve?(target: unknown): void;
          };
        }
      | undefined;
    if (!Observer) continue;
    const { observe, disconnect, unobserve } = Observer.prototype;
    // Held weakly, since the tool itself must not keep elements alive.
    const keys = new WeakMap<object, object>();
    const targets = new WeakMap<object, Set<WeakRef<object>>>();
    const isConnected = (target: WeakRef<object>) => (target.deref() as Node | undefined)?.isConnected === true;
    Observer.prototype.observe = function (target, ...options) {
      const set = targets.get(this) ?? new Set();
      targets.set(this, set);
      if (typeof target === 'object' && target !== null && 'nodeType' in target) set.add(new WeakRef(target));
      const key = keys.get(this) ?? {};
      keys.set(this, key);
      const what = { kind: 'observer', what: `a ${name}` } as const;
      taken.set(key, name === 'MutationObserver' ? { ...what, acts: () => [...set].some(isConnected) } : what);
      return observe.call(this, target, ...options);
    };
    Observer.prototype.disconnect = function () {
      taken.delete(keys.get(this));
      targets.delete(this);
      return disconnect.call(this);
    };
    if (unobserve)
      Observer.prototype.unobserve = function (target) {
        const set = targets.get(this);
        for (const reference of set ?? []) if (reference.deref() === target) set!.delete(reference);
        if (!set || set.size === 0) taken.delete(keys.get(this));
        return unobserve.call(this, target);
      };
  }
}

function watchSheets(): void {
  const { prototype } = CSSStyleSheet;
  const { replaceSync, replace, insertRule } = prototype;
  prototype.replaceSync = function (text) {
    sheetTexts.set(this, text);
    return replaceSync.call(this, text);
  };
  prototype.replace = function (text) {
    sheetTexts.set(this, text);
    return replace.call(this, text);
  };
  prototype.insertRule = function (rule, index) {
    sheetTexts.set(this, `${sheetTexts.get(this) ?? ''}\n${rule}`);
    return insertRule.call(this, rule, index);
  };
}

const internals = new WeakMap<Element, ElementInternals>();

/** The internals of an element, which can be attached only once. */
export function internalsOf(element: Element): ElementInternals | undefined {
  return internals.get(element);
}

function watchInternals(): void {
  const { prototype } = HTMLElement;
  const { attachInternals } = prototype;
  prototype.attachInternals = function () {
    const attached = attachInternals.call(this);
    internals.set(this, attached);
    return attached;
  };
}

function watchRequests(): void {
  page.fetch = (input, init) => {
    const url = new URL(input instanceof Request ? input.url : String(input), document.baseURI);
    const key = {};
    foreign(url);
    taken.set(key, { kind: 'request', what: `fetch('${url.pathname}')` });
    const answer = real.fetch.call(page, input as never, init);
    answer.then(
      () => taken.delete(key),
      () => taken.delete(key),
    );
    return answer;
  };
  const { send } = XMLHttpRequest.prototype;
  XMLHttpRequest.prototype.send = function (body) {
    const end = () => taken.delete(this);
    taken.set(this, { kind: 'request', what: 'an XMLHttpRequest' });
    this.addEventListener('loadend', end, { once: true });
    try {
      send.call(this, body);
    } catch (error) {
      end();
      throw error;
    }
  };
  const Source = page.EventSource;
  if (Source)
    page.EventSource = class extends Source {
      constructor(url: string | URL, init?: EventSourceInit) {
        super(url, init);
        foreign(new URL(url, document.baseURI));
        taken.set(this, { kind: 'request', what: `an EventSource of '${String(url)}'` });
      }
      override close(): void {
        taken.delete(this);
        super.close();
      }
    };
  const Socket = page.WebSocket;
  if (Socket)
    page.WebSocket = class extends Socket {
      constructor(url: string | URL, protocols?: string | string[]) {
        super(url, protocols);
        foreign(new URL(url, document.baseURI));
        taken.set(this, { kind: 'request', what: `a WebSocket to '${String(url)}'` });
      }
      override close(code?: number, reason?: string): void {
        taken.delete(this);
        super.close(code, reason);
      }
    };
}

function foreign(url: URL): void {
  if (url.host && url.host !== location.host) report('request', url.href);
}

/** Images, style sheets and fonts request other hosts too. */
export function foreignResources(): string[] {
  return performance
    .getEntriesByType('resource')
    .map(({ name }) => name)
    .filter(name => /^(?:https?|wss?):/.test(name) && new URL(name).host !== location.host);
}
