import type { CleanUp, effectOf } from '../signals/effect.ts';
import { report } from '../signals/report.ts';

/** The argument of `using`, if the project's library types declare it. */
type DisposableObject = SymbolConstructor extends { readonly dispose: infer Dispose extends symbol }
  ? { readonly [key in Dispose]: () => void }
  : never;

/** A resource: a function that releases it, or an object with a method to dispose of it. */
export type Resource = (() => void) | { dispose(): void } | DisposableObject;

type In<EventMap, Type> = Type extends keyof EventMap ? EventMap[Type] : Event;

/** The type of an event, where the platform's types know the target. */
type EventOf<Target, Type> = Target extends Window
  ? In<WindowEventMap, Type>
  : Target extends Document
    ? In<DocumentEventMap, Type>
    : Target extends HTMLElement | ShadowRoot
      ? In<HTMLElementEventMap, Type>
      : Target extends MediaQueryList
        ? In<MediaQueryListEventMap, Type>
        : Event;

/**
 * Collects what an element uses while it is connected. When the element is disconnected, everything is released, last
 * first. An error in one release does not stop the others.
 */
export interface Scope {
  /** Aborted when the element is disconnected. */
  readonly signal: AbortSignal;
  /** Adds an event listener. */
  on<Target extends EventTarget, Type extends string>(
    target: Target,
    type: Type,
    handler: ((event: EventOf<Target, Type>) => unknown) | EventListenerObject,
    options?: AddEventListenerOptions | boolean,
  ): void;
  /** The same for events that the types do not know: `scope.on<CustomEvent<Detail>>(…)`. */
  on<E extends Event = Event>(
    target: EventTarget,
    type: string,
    handler: ((event: E) => unknown) | EventListenerObject,
    options?: AddEventListenerOptions | boolean,
  ): void;
  /** Calls a function every `ms` milliseconds. Returns a function that stops it. */
  every(ms: number, fn: () => void): () => void;
  /** Calls a function once, after `ms` milliseconds. Returns a function that cancels it. */
  after(ms: number, fn: () => void): () => void;
  /** Calls a function before the next frame is painted. Returns a function that cancels it. */
  frame(fn: (time: number) => void): () => void;
  /** Starts an effect that stops with the connection. Returns a function that stops it earlier. */
  // biome-ignore lint/suspicious/noConfusingVoidType: an effect that returns nothing returns void.
  effect(fn: () => CleanUp | void): () => void;
  /**
   * Starts an effect that measures: it runs after all changes of the DOM have been made, and again after a change of
   * one of its dependencies. Values that it sets are shown before the next frame. Returns a function that stops it.
   */
  // biome-ignore lint/suspicious/noConfusingVoidType: an effect that returns nothing returns void.
  measure(fn: () => CleanUp | void): () => void;
  /** Adds a resource to release, and returns it. */
  use<R extends Resource>(resource: R): R;
}

/**
 * Creates effects. Set by a part that imports the dependency graph, which a build omits where no scope creates
 * effects.
 */
let makeEffect: typeof effectOf | undefined;
let makeMeasure: typeof effectOf | undefined;

export function giveEffects(given: typeof effectOf): void {
  makeEffect = given;
}

export function giveMeasures(given: typeof effectOf): void {
  makeMeasure = given;
}

/** Development: what each element has taken and not released, in words. */
const taken = new WeakMap<object, Set<{ readonly what: string }>>();

export function takenBy(host: object): string[] {
  return [...(taken.get(host) ?? [])].map(({ what }) => what);
}

export class ConnectionScope implements Scope {
  #controller: AbortController | undefined;
  readonly #taken = new Set<() => void>();
  #ended = false;

  constructor(readonly host: object) {}

  get signal(): AbortSignal {
    const controller = (this.#controller ??= new AbortController());
    if (this.#ended) controller.abort();
    return controller.signal;
  }

  on(
    target: EventTarget,
    type: string,
    handler: ((event: never) => unknown) | EventListenerObject,
    options?: AddEventListenerOptions | boolean,
  ): void {
    const { once, signal } = Object(options) as AddEventListenerOptions;
    if (signal?.aborted) return;
    const { host } = this;
    const listener = (event: Event) => {
      if (once) stop();
      if (typeof handler === 'function') handler.call(host, event as never);
      else handler.handleEvent(event);
    };
    target.addEventListener(type, listener, options);
    const stop = this.#take(() => target.removeEventListener(type, listener, options), __DEV__ ? `on ${type}` : '');
    // An element that adds a listener for each drag does not collect them.
    signal?.addEventListener('abort', stop, { signal: this.signal });
  }

  every(ms: number, fn: () => void): () => void {
    const timer = setInterval(() => fn.call(this.host), ms);
    return this.#take(() => clearInterval(timer), __DEV__ ? `every ${ms} ms` : '');
  }

  after(ms: number, fn: () => void): () => void {
    const timer = setTimeout(() => {
      stop();
      fn.call(this.host);
    }, ms);
    const stop = this.#take(() => clearTimeout(timer), __DEV__ ? `after ${ms} ms` : '');
    return stop;
  }

  frame(fn: (time: number) => void): () => void {
    const request = requestAnimationFrame(time => {
      stop();
      fn.call(this.host, time);
    });
    const stop = this.#take(() => cancelAnimationFrame(request), __DEV__ ? 'a frame' : '');
    return stop;
  }

  // biome-ignore lint/suspicious/noConfusingVoidType: as in the interface.
  effect(fn: () => CleanUp | void): () => void {
    return this.#ended ? () => {} : this.#take(makeEffect!(fn, this.host), __DEV__ ? 'an effect' : '');
  }

  // biome-ignore lint/suspicious/noConfusingVoidType: as in the interface.
  measure(fn: () => CleanUp | void): () => void {
    return this.#ended ? () => {} : this.#take(makeMeasure!(fn, this.host), __DEV__ ? 'a measuring effect' : '');
  }

  use<R extends Resource>(resource: R): R {
    this.#take(
      () => {
        if (typeof resource === 'function') resource();
        else if (Symbol.dispose !== undefined && Symbol.dispose in resource) (resource as Disposable)[Symbol.dispose]();
        else (resource as { dispose(): void }).dispose();
      },
      __DEV__ ? 'a resource' : '',
    );
    return resource;
  }

  /** Adds a release function. After the end it is called at once. */
  #take(giveBack: () => void, what: string): () => void {
    const noted = __DEV__ ? { what } : undefined;
    const stop = () => {
      if (__DEV__) taken.get(this.host)?.delete(noted!);
      if (this.#taken.delete(stop)) giveBack();
    };
    this.#taken.add(stop);
    if (__DEV__) {
      const all = taken.get(this.host) ?? new Set();
      taken.set(this.host, all.add(noted!));
    }
    if (this.#ended) stop();
    return stop;
  }

  end(): void {
    this.#ended = true;
    for (const stop of [...this.#taken].reverse()) {
      try {
        stop();
      } catch (error) {
        report(error, this.host);
      }
    }
    this.#controller?.abort();
  }
}
