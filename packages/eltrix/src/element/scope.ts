import type { CleanUp } from '../signals/effect.ts';
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

/** Development: what each element has taken and not released, in words. */
const taken = new WeakMap<object, Set<{ readonly what: string }>>();

export function takenBy(host: object): string[] {
  return [...(taken.get(host) ?? [])].map(({ what }) => what);
}

/** A scope. Its methods come from parts (`scope-members.ts`, `scope-effects.ts`), so a build has only those in use. */
export class ConnectionScope {
  readonly #taken = new Set<() => void>();
  controller: AbortController | undefined;
  ended = false;

  constructor(readonly host: object) {}

  /** Adds a release function. After the end it is called at once. */
  take(giveBack: () => void, what: string): () => void {
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
    if (this.ended) stop();
    return stop;
  }

  end(): void {
    this.ended = true;
    for (const stop of [...this.#taken].reverse()) {
      try {
        stop();
      } catch (error) {
        report(error, this.host);
      }
    }
    this.controller?.abort();
  }
}
