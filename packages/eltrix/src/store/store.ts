/** State outside elements: named changes as plain functions, and subscribers that depend on single fields. */
import { computed, type Readable } from '../signals/computed.ts';
import { batch } from '../signals/queue.ts';
import { type Signal, signal } from '../signals/signal.ts';

type State = object;
/** Returns the next state; undefined, or the same state, changes nothing. */
// biome-ignore lint/suspicious/noExplicitAny: arguments differ by change.
type Change<S> = (state: S, ...args: any[]) => S | undefined;
type Changes<S> = Readonly<Record<string, Change<S>>>;
type ArgumentsOf<F> = F extends (state: never, ...args: infer A) => unknown ? A : never;

/** The origin of a state: a named change, a saved state, another tab, undo or redo, or a call of `replace`. */
export type StoreOrigin = 'change' | 'load' | 'tab' | 'history' | 'replace';

/** The detail of the store's event `change`. */
export interface StoreChange<S> {
  /** The change's name, or the name given to `replace`. */
  readonly name: string;
  readonly origin: StoreOrigin;
  readonly args: readonly unknown[];
  readonly before: S;
  readonly after: S;
}

/** A failure after which the store continues. */
export interface StoreProblem {
  readonly code: string;
  /** What happened; in production the code. */
  readonly message: string;
  readonly cause: unknown;
}

/** The events of a store. */
export interface StoreEvents<S> {
  readonly change: CustomEvent<StoreChange<S>>;
  readonly problem: CustomEvent<StoreProblem>;
}

export interface Store<S extends State, C extends Changes<S> = Changes<S>> extends EventTarget {
  addEventListener<N extends keyof StoreEvents<S>>(
    type: N,
    listener: (event: StoreEvents<S>[N]) => void,
    options?: boolean | AddEventListenerOptions,
  ): void;
  addEventListener(
    type: string,
    listener: EventListenerOrEventListenerObject | null,
    options?: boolean | AddEventListenerOptions,
  ): void;
  removeEventListener<N extends keyof StoreEvents<S>>(
    type: N,
    listener: (event: StoreEvents<S>[N]) => void,
    options?: boolean | EventListenerOptions,
  ): void;
  removeEventListener(
    type: string,
    listener: EventListenerOrEventListenerObject | null,
    options?: boolean | EventListenerOptions,
  ): void;
  /** The whole state; a tracked reading of all of it. */
  get(): S;
  /** The whole state, without a dependency. */
  peek(): S;
  /** The fields of the state; each is tracked separately. */
  readonly state: Readonly<S>;
  /** A value derived from the state; its subscribers are notified when it differs. */
  select<T>(from: (state: Readonly<S>) => T, equals?: (a: T, b: T) => boolean): Readable<T>;
  /** Applies a named change. @throws what the change throws; the state is then unchanged. */
  change<N extends keyof C & string>(name: N, ...args: ArgumentsOf<C[N]>): void;
  /** Replaces the state. `origin` is passed to the history and to other tabs; `replace` unless given. */
  replace(state: S, name: string, origin?: StoreOrigin): void;
}

class StateStore<S extends State> extends EventTarget implements Store<S> {
  readonly #changes: Changes<S>;
  readonly #whole: Signal<S>;
  readonly #fields = new Map<PropertyKey, Signal<unknown>>();
  readonly #names = signal(0);
  /** The change whose listeners are being called, then the changes made by listeners and effects, in order. */
  readonly #pending: StoreChange<S>[] = [];
  readonly state: Readonly<S>;

  constructor(initial: S, changes: Changes<S>) {
    super();
    this.#changes = changes;
    this.#whole = signal(frozen(initial));
    this.state = new Proxy({} as S, {
      get: (_, key) => this.#field(key).get(),
      has: (_, key) => key in this.#shape(),
      ownKeys: () => Reflect.ownKeys(this.#shape()),
      getOwnPropertyDescriptor: (_, key) =>
        Object.hasOwn(this.#shape(), key)
          ? { value: this.#field(key).get(), enumerable: true, configurable: true, writable: false }
          : undefined,
      set: () => false,
      defineProperty: () => false,
      deleteProperty: () => false,
    });
  }

  /** The source for the list of fields. */
  #shape(): S {
    this.#names.get();
    return this.peek();
  }

  #field(key: PropertyKey): Signal<unknown> {
    let field = this.#fields.get(key);
    if (!field) this.#fields.set(key, (field = signal((this.peek() as Record<PropertyKey, unknown>)[key])));
    return field;
  }

  get(): S {
    return this.#whole.get();
  }

  peek(): S {
    return this.#whole.peek();
  }

  select<T>(from: (state: Readonly<S>) => T, equals?: (a: T, b: T) => boolean): Readable<T> {
    return computed(() => from(this.state), equals && { equals });
  }

  change(name: string, ...args: unknown[]): void {
    const change = this.#changes[name];
    if (!change || !Object.hasOwn(this.#changes, name))
      throw new TypeError(
        __DEV__
          ? `(change-unknown): The store has no change "${name}". It has ${Object.keys(this.#changes).join(', ') || 'none'}. Nothing was changed.`
          : 'change-unknown',
      );
    const after = change(this.peek(), ...args);
    if (after !== undefined) this.#set(after, name, args, 'change');
  }

  replace(state: S, name: string, origin: StoreOrigin = 'replace'): void {
    this.#set(state, name, [], origin);
  }

  #set(after: S, name: string, args: readonly unknown[], origin: StoreOrigin): void {
    const before = this.peek();
    if (Object.is(before, after)) return;
    if (typeof after !== 'object' || after === null || after instanceof Promise)
      throw new TypeError(
        __DEV__
          ? `(change-result): "${name}" gives ${after instanceof Promise ? 'a promise' : String(after)}, and a state is an object. Return the next state: (state, jars) => ({ ...state, jars }); wait for promises before you call change(). Nothing was changed.`
          : 'change-result',
      );
    const change = { name, origin, args, before, after };
    const pending = this.#pending;
    pending.push(change);
    let isSet = false;
    const set = () => {
      this.#whole.set(frozen(after));
      isSet = true;
      for (const [key, field] of this.#fields) {
        const value = (after as Record<PropertyKey, unknown>)[key];
        if (!Object.is(value, field.peek())) field.set(value);
      }
      if (!sameKeys(before, after)) this.#names.set(this.#names.peek() + 1);
    };
    try {
      batch(set);
    } finally {
      // A computed must not change the state; the state is unchanged.
      if (!isSet) pending.splice(pending.indexOf(change), 1);
    }
    if (pending[0] !== change) return;
    for (const detail of pending) this.dispatchEvent(new CustomEvent('change', { detail }));
    pending.length = 0;
  }
}

function sameKeys(a: object, b: object): boolean {
  let more = 0;
  for (const key in b) {
    if (!(key in a)) return false;
    more++;
  }
  for (const _ in a) more--;
  return more === 0;
}

/** Development: freezes the state, so that a change that modifies it in place throws. */
function frozen<T>(value: T): T {
  if (!__DEV__ || typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  const prototype: unknown = Object.getPrototypeOf(value);
  if (!Array.isArray(value) && prototype !== Object.prototype && prototype !== null) return value;
  Object.freeze(value);
  for (const item of Object.values(value)) frozen(item);
  return value;
}

/**
 * Creates a store.
 * @param changes name to a function of the state and its arguments, which returns the next state.
 * @example
 * const ledger = store({ jars: 0 }, { fill: (state, count: number) => ({ ...state, jars: state.jars + count }) });
 * ledger.change('fill', 3);
 * markup`${() => ledger.state.jars}`;
 */
export function store<S extends State, C extends Changes<S>>(initial: S, changes: C): Store<S, C> {
  return new StateStore(initial, changes) as unknown as Store<S, C>;
}

/**
 * Dispatches an event `problem` in a microtask, so that a listener added right after `autosave()` receives it.
 * @param text what happened, in development.
 */
export function reportProblem(code: string, target: Store<State>, text: string, cause: unknown): void {
  queueMicrotask(() => {
    const detail: StoreProblem = { code, message: text || code, cause };
    const went = target.dispatchEvent(new CustomEvent('problem', { detail, cancelable: true }));
    // A listener that calls preventDefault() has handled it.
    if (went) console.warn(__DEV__ ? `(${code}): ${text}` : code, cause);
  });
}
