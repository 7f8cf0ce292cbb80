/** Leftovers of a test in its page: found when it ends, reported and removed. */

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

/** The page's functions, saved before a test can replace them. */
const page = globalThis as unknown as Window & typeof globalThis;
const real = {
  setTimeout: page.setTimeout,
  clearTimeout: page.clearTimeout,
  setInterval: page.setInterval,
  clearInterval: page.clearInterval,
  requestAnimationFrame: page.requestAnimationFrame,
  cancelAnimationFrame: page.cancelAnimationFrame,
};

/** The names of the page's globals, as a list and as a set: reading a thousand names for each test is slow. */
let globals: { readonly names: readonly string[]; readonly set: ReadonlySet<string> } = { names: [], set: new Set() };

/** New names come last: a list with the same length and the same last name is unchanged. */
function readGlobals(): typeof globals {
  const names = Object.getOwnPropertyNames(page);
  if (names.length !== globals.names.length || names.at(-1) !== globals.names.at(-1))
    globals = { names, set: new Set(names) };
  return globals;
}

export class Leftovers {
  readonly #nodes: ReadonlySet<Node>;
  #globals: ReadonlySet<string>;
  readonly #storage: readonly (readonly [Storage, ReadonlySet<string>])[];
  readonly #listeners: Listening[] = [];
  readonly #timers = new Map<unknown, { readonly what: string; stop(): void; readonly kind: Leftover }>();
  readonly #undo: (() => void)[] = [];

  constructor() {
    this.#nodes = new Set(topNodes());
    this.#globals = readGlobals().set;
    this.#storage = storages().map(storage => [storage, new Set(Object.keys(storage))]);
    this.#watchListeners();
    this.#watchTimers();
    watching = this;
  }

  /** Nothing is recorded until the returned function is called. */
  pause(all: boolean): () => void {
    const listeners = new Set(this.#listeners);
    const timers = new Set(this.#timers.keys());
    return () => {
      this.#globals = new Set([...this.#globals, ...readGlobals().names]);
      if (!all) return;
      this.#listeners.splice(0, Number.POSITIVE_INFINITY, ...this.#listeners.filter(one => listeners.has(one)));
      for (const id of [...this.#timers.keys()]) if (!timers.has(id)) this.#timers.delete(id);
    };
  }

  #watchListeners(): void {
    if (typeof EventTarget === 'undefined' || !page.document) return;
    const prototype = page.EventTarget.prototype;
    const { addEventListener: add, removeEventListener: remove } = prototype;
    const list = this.#listeners;
    const find = (target: unknown, type: string, listener: unknown, options: Listening['options']) =>
      list.findIndex(
        l =>
          l.target === target && l.type === type && l.listener === listener && capture(l.options) === capture(options),
      );
    prototype.addEventListener = function (type, listener, options) {
      const target = (this ?? page) as Target;
      if (listener && (target === page || target === page.document) && find(target, type, listener, options) < 0) {
        const { signal, once } = typeof options === 'object' ? options : {};
        const entry = { target, type, listener, options };
        const gone = () => void (list.includes(entry) && list.splice(list.indexOf(entry), 1));
        if (!signal?.aborted) list.push(entry);
        if (signal) add.call(signal, 'abort', gone, { once: true });
        if (once) add.call(target, type, gone, { once: true, capture: capture(options) });
      }
      return add.call(target, type, listener, options);
    };
    prototype.removeEventListener = function (type, listener, options) {
      const target = (this ?? page) as Target;
      const at = find(target, type, listener, options as Listening['options']);
      if (at >= 0) list.splice(at, 1);
      return remove.call(target, type, listener, options);
    };
    this.#undo.push(() => Object.assign(prototype, { addEventListener: add, removeEventListener: remove }));
  }

  #watchTimers(): void {
    const timers = this.#timers;
    const names = Object.keys(real) as (keyof typeof real)[];
    const present = Object.fromEntries(names.map(name => [name, page[name]])) as typeof real;
    const once =
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
        timers.set(id, {
          kind,
          what: kind === 'frames' ? 'an animation frame' : `${name}(…, ${ms ?? 0})`,
          stop: () => stop(id as never),
        });
        return id;
      };
    const exchanged = {
      setTimeout: once(
        (fn, ms) => real.setTimeout.call(page, fn, ms),
        id => real.clearTimeout.call(page, id),
        'timers',
        'setTimeout',
      ),
      clearTimeout(id: number) {
        timers.delete(id);
        real.clearTimeout.call(page, id);
      },
      setInterval(fn: TimerHandler, ms?: number, ...args: unknown[]) {
        const id = real.setInterval.call(page, () => typeof fn === 'function' && fn(...args), ms);
        timers.set(id, {
          kind: 'timers',
          what: `setInterval(…, ${ms ?? 0})`,
          stop: () => real.clearInterval.call(page, id),
        });
        return id;
      },
      clearInterval(id: number) {
        timers.delete(id);
        real.clearInterval.call(page, id);
      },
      ...(real.requestAnimationFrame
        ? {
            requestAnimationFrame: once(
              fn => real.requestAnimationFrame.call(page, fn as FrameRequestCallback),
              id => real.cancelAnimationFrame.call(page, id),
              'frames',
              'requestAnimationFrame',
            ),
            cancelAnimationFrame(id: number) {
              timers.delete(id);
              real.cancelAnimationFrame.call(page, id);
            },
          }
        : {}),
    };
    Object.assign(page, exchanged);
    this.#undo.push(() => Object.assign(page, present));
  }

  /** Finds and removes leftovers. @returns the error for those that are not allowed. */
  async end(allowed: ReadonlySet<Leftover>): Promise<Error | undefined> {
    // Pending microtasks and timers without delay run first.
    if (this.#timers.size > 0) await new Promise<void>(resolve => real.setTimeout.call(page, resolve, 1));
    for (const undo of this.#undo) undo();
    watching = undefined;
    const found: [Leftover, string][] = [];
    for (const node of topNodes()) {
      if (this.#nodes.has(node)) continue;
      found.push(['nodes', describe(node)]);
      if (!allowed.has('nodes')) node.remove();
    }
    for (const { target, type, listener, options } of this.#listeners.splice(0)) {
      found.push(['listeners', `a "${type}" listener on ${target === page ? 'window' : 'document'}`]);
      if (!allowed.has('listeners')) target.removeEventListener(type, listener, options);
    }
    for (const { kind, what, stop } of this.#timers.values()) {
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
    const now = readGlobals();
    // The same set: no name was added.
    for (const name of now.set === this.#globals ? [] : now.names) {
      if (this.#globals.has(name) || /^\d+$/.test(name)) continue;
      found.push(['globals', `the global "${name}"`]);
      if (!allowed.has('globals')) Reflect.deleteProperty(page, name);
    }
    const left = found.filter(([kind]) => !allowed.has(kind));
    if (left.length === 0) return undefined;
    const kinds = [...new Set(left.map(([kind]) => kind))];
    return Object.assign(
      new Error(
        `(left-behind): The test passed, and left behind ${left.map(([, what]) => what).join(', ')}. It was taken away. ` +
          `Undo it in the test, in atEnd(() => …) or afterEach(), or declare it: leaves(${kinds.map(kind => `'${kind}'`).join(', ')}).`,
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
