/** Leftovers of a test in its page: found when it ends, reported and removed. */
import { addedGlobals, globalNames, noteGlobals } from './global-names.ts';
import { pause, real } from './real-time.ts';

/** Kinds of leftovers. */
export type Leftover = 'nodes' | 'listeners' | 'timers' | 'frames' | 'storage' | 'globals';

const declared = new Set<Leftover>();
let declaredNow = new Set<Leftover>();

/**
 * Allows leftovers: `leaves('timers')`. Inside a test it applies to that test, at the top of a file to all its tests.
 * @example leaves('timers');  // this test may leave timers behind
 */
export function leaves(...kinds: Leftover[]): void {
  for (const kind of kinds) (watching ? declaredNow : declared).add(kind);
}

/** The leftovers that the ended test may have. */
export function allowedLeftovers(): ReadonlySet<Leftover> {
  const all = new Set([...declared, ...declaredNow]);
  declaredNow = new Set();
  return all;
}

let watching: Leftovers | undefined;

/**
 * Runs code of the tool, whose leftovers fail no test.
 * @param all false: only new globals are allowed, since drivers create some; other leftovers belong to the test.
 */
export async function unwatched<T>(fn: () => Promise<T>, all = true): Promise<T> {
  const present = watching;
  const undo = present?.pause(all);
  try {
    return await fn();
  } finally {
    undo?.();
  }
}

type Target = Window | Document;

interface Listening {
  readonly target: Target;
  readonly type: string;
  readonly listener: EventListenerOrEventListenerObject;
  readonly options: boolean | AddEventListenerOptions | undefined;
}

const capture = (options: boolean | AddEventListenerOptions | undefined) =>
  typeof options === 'object' ? options.capture === true : options === true;

const page = globalThis as unknown as Window & typeof globalThis;

/** The globals at the end of the last test, if no code of the test file has run since then. */
let fresh: ReadonlySet<string> | undefined;

/** Hooks of a suite may add globals, which are not those of the next test. */
export function readGlobalsAgain(): void {
  fresh = undefined;
}

/** What the running test has added and not removed. */
const listeners: Listening[] = [];
const timers = new Map<unknown, { readonly what: string; stop(): void; readonly kind: Leftover }>();

const findListener = (target: unknown, type: string, listener: unknown, options: Listening['options']) =>
  listeners.findIndex(
    one =>
      one.target === target &&
      one.type === type &&
      one.listener === listener &&
      capture(one.options) === capture(options),
  );

/** Functions that record what the running test adds. They stay in the page: exchanging them for each test is slow. */
const recording = recordingTimers();
const recordGlobals = once(noteGlobals);
const recordListeners = once(() => {
  if (typeof EventTarget === 'undefined' || !page.document) return;
  const prototype = page.EventTarget.prototype;
  const { addEventListener: add, removeEventListener: remove } = prototype;
  prototype.addEventListener = function (type, listener, options) {
    const target = (this ?? page) as Target;
    const isOurs = watching !== undefined && (target === page || target === page.document);
    if (isOurs && listener && findListener(target, type, listener, options) < 0) {
      const { signal, once } = typeof options === 'object' ? options : {};
      const entry = { target, type, listener, options };
      const gone = () => void (listeners.includes(entry) && listeners.splice(listeners.indexOf(entry), 1));
      if (!signal?.aborted) listeners.push(entry);
      if (signal) add.call(signal, 'abort', gone, { once: true });
      if (once) add.call(target, type, gone, { once: true, capture: capture(options) });
    }
    return add.call(target, type, listener, options);
  };
  prototype.removeEventListener = function (type, listener, options) {
    const target = (this ?? page) as Target;
    const at = listeners.length > 0 ? findListener(target, type, listener, options as Listening['options']) : -1;
    if (at >= 0) listeners.splice(at, 1);
    return remove.call(target, type, listener, options);
  };
});

function once(fn: () => void): () => void {
  let done = false;
  return () => {
    if (!done) fn();
    done = true;
  };
}

function recordingTimers(): typeof real {
  const record = (id: unknown, kind: Leftover, what: string, stop: () => void) => {
    if (watching) timers.set(id, { kind, what, stop });
    return id;
  };
  const starting =
    (
      start: (fn: (...args: unknown[]) => void, ms?: number) => unknown,
      stop: (id: never) => void,
      kind: Leftover,
      name: string,
    ) =>
    (fn: TimerHandler, ms?: number, ...args: unknown[]) => {
      const id = start((...given: unknown[]) => {
        timers.delete(id);
        if (typeof fn === 'function') (fn as (...given: unknown[]) => void)(...(given.length > 0 ? given : args));
      }, ms);
      return record(id, kind, kind === 'frames' ? 'an animation frame' : `${name}(…, ${ms ?? 0})`, () =>
        stop(id as never),
      );
    };
  const stopping = (name: 'clearTimeout' | 'clearInterval' | 'cancelAnimationFrame') => (id: number) => {
    timers.delete(id);
    real[name].call(page, id);
  };
  const functions = {
    setTimeout: starting(
      (fn, ms) => real.setTimeout.call(page, fn, ms),
      id => real.clearTimeout.call(page, id),
      'timers',
      'setTimeout',
    ),
    clearTimeout: stopping('clearTimeout'),
    setInterval(fn: TimerHandler, ms?: number, ...args: unknown[]) {
      const id = real.setInterval.call(page, () => typeof fn === 'function' && fn(...args), ms);
      return record(id, 'timers', `setInterval(…, ${ms ?? 0})`, () => real.clearInterval.call(page, id));
    },
    clearInterval: stopping('clearInterval'),
    ...(real.requestAnimationFrame
      ? {
          requestAnimationFrame: starting(
            fn => real.requestAnimationFrame.call(page, fn as FrameRequestCallback),
            id => real.cancelAnimationFrame.call(page, id),
            'frames',
            'requestAnimationFrame',
          ),
          cancelAnimationFrame: stopping('cancelAnimationFrame'),
        }
      : {}),
  };
  return functions as unknown as typeof real;
}

const timerNames = Object.keys(recording) as (keyof typeof real)[];

export class Leftovers {
  readonly #nodes: ReadonlySet<Node>;
  #globals: ReadonlySet<string>;
  readonly #storage: readonly (readonly [Storage, ReadonlySet<string>])[];
  /** Functions with which the test file has replaced those of the page. */
  readonly #replaced: Partial<typeof real> = {};

  constructor() {
    this.#nodes = new Set(topNodes());
    recordGlobals();
    this.#globals = fresh ?? globalNames();
    fresh = undefined;
    this.#storage = storages().map(storage => [storage, new Set(Object.keys(storage))]);
    recordListeners();
    for (const name of timerNames) {
      const present = page[name];
      if (present === recording[name]) continue;
      if (present !== real[name]) this.#replaced[name] = present as never;
      page[name] = recording[name] as never;
    }
    listeners.length = 0;
    timers.clear();
    watching = this;
  }

  /** Nothing is recorded until the returned function is called. */
  pause(all: boolean): () => void {
    const kept = new Set(listeners);
    const running = new Set(timers.keys());
    return () => {
      this.#globals = new Set([...this.#globals, ...globalNames()]);
      if (!all) return;
      listeners.splice(0, Number.POSITIVE_INFINITY, ...listeners.filter(one => kept.has(one)));
      for (const id of [...timers.keys()]) if (!running.has(id)) timers.delete(id);
    };
  }

  /** Finds and removes leftovers. @returns the error for those that are not allowed. */
  async end(allowed: ReadonlySet<Leftover>): Promise<Error | undefined> {
    // Pending microtasks and timers without delay run first.
    if (timers.size > 0) await pause(1);
    // A test may have replaced them and not put them back.
    for (const name of timerNames)
      if (page[name] !== recording[name] || this.#replaced[name])
        page[name] = (this.#replaced[name] ?? recording[name]) as never;
    watching = undefined;
    const found: [Leftover, string][] = [];
    for (const node of topNodes()) {
      if (this.#nodes.has(node)) continue;
      found.push(['nodes', describe(node)]);
      if (!allowed.has('nodes')) node.remove();
    }
    for (const { target, type, listener, options } of listeners.splice(0)) {
      found.push(['listeners', `a "${type}" listener on ${target === page ? 'window' : 'document'}`]);
      if (!allowed.has('listeners')) target.removeEventListener(type, listener, options);
    }
    for (const { kind, what, stop } of timers.values()) {
      found.push([kind, what]);
      if (!allowed.has(kind)) stop();
    }
    for (const [storage, before] of this.#storage) {
      for (const key of Object.keys(storage)) {
        if (before.has(key)) continue;
        found.push(['storage', `"${key}" in ${storage === page.localStorage ? 'localStorage' : 'sessionStorage'}`]);
        if (!allowed.has('storage')) storage.removeItem(key);
      }
    }
    const now = globalNames();
    for (const name of addedGlobals(this.#globals, now)) {
      found.push(['globals', `the global "${name}"`]);
      if (!allowed.has('globals')) Reflect.deleteProperty(page, name);
    }
    const left = found.filter(([kind]) => !allowed.has(kind));
    if (!left.some(([kind]) => kind === 'globals')) fresh = now;
    if (left.length === 0) return undefined;
    const kinds = [...new Set(left.map(([kind]) => kind))];
    return Object.assign(
      new Error(
        `(left-behind): The test passed, and left something behind: ${left.map(([, what]) => what).join(', ')}. It was removed. ` +
          `Clean up in the test, in atEnd(() => …) or afterEach(), or allow it: leaves(${kinds.map(kind => `'${kind}'`).join(', ')}).`,
      ),
      { code: 'left-behind', stack: '' },
    );
  }
}

function topNodes(): ChildNode[] {
  const { document } = page;
  if (!document) return [];
  return [...document.head.childNodes, ...document.body.childNodes, ...document.documentElement.childNodes].filter(
    node => node.nodeType === 1,
  );
}

function storages(): Storage[] {
  try {
    return [page.localStorage, page.sessionStorage].filter(Boolean);
  } catch {
    // A page with an opaque origin has none.
    return [];
  }
}

function describe(node: ChildNode): string {
  const { localName, id } = node as Element;
  return `<${localName}${id ? ` id="${id}"` : ''}> in ${node.parentElement?.localName ?? 'the document'}`;
}
