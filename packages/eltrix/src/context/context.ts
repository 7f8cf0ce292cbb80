/**
 * Values for descendants, by the community's context protocol: an element sends a request event, and an ancestor
 * answers with a callback.
 */

import { onMoved } from '../element/moved.ts';
import { parentAcross } from '../element/parent-across.ts';
import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';
import { effect } from '../signals/effect.ts';
import { isSignal } from '../signals/readable.ts';
import type { Signal } from '../signals/signal.ts';
import { untracked } from '../signals/state.ts';

/** The key of a context. Contexts are compared by identity. */
export interface Context<T> {
  readonly name: string;
  /** A type only. */
  readonly value?: T;
}

/**
 * Creates a context. Export it from one module: a second one with the same name is another context.
 * @example export const apiaryContext = context<Apiary>('apiary');
 */
export function context<T>(name: string): Context<T> {
  return { name };
}

type Callback<T> = (value: T, stop?: () => void) => void;

/** The request event; it bubbles and is composed. */
class ContextRequest<T> extends Event {
  constructor(
    readonly context: unknown,
    readonly contextTarget: Element,
    readonly callback: Callback<T>,
    readonly subscribe: boolean,
  ) {
    super('context-request', { bubbles: true, composed: true });
  }
}

/** The event that announces a new provider. */
class ContextProvider extends Event {
  constructor(
    readonly context: unknown,
    readonly contextTarget: Element,
  ) {
    super('context-provider', { bubbles: true, composed: true });
  }
}

type RequestEvent = Event & {
  context?: unknown;
  contextTarget?: Element;
  callback?: Callback<unknown>;
  subscribe?: boolean;
};

/** What can be offered: a value, or a signal with it. A signal that is the value itself would be read. */
type Offered<T> = (T extends Signal<unknown> ? never : T) | Readable<T>;

/**
 * Offers a value to all descendants: elements made with Eltrix, and others that use the protocol. A signal is tracked:
 * descendants get its value. To offer the signal itself, which they may set, write `computed(() => theSignal)`. If
 * several ancestors offer the same context, the nearest one answers.
 *
 * @returns a function that withdraws it, for `scope.use()`.
 * @example connected(scope) { scope.use(offer(this, apiary, this.#apiary)); }
 */
export function offer<T>(host: Element, key: Context<T>, value: Offered<T>): () => void {
  const stops = new Set<() => void>();
  const isTracked = isSignal(value);
  const read = () => (isTracked ? (value as Readable<T>).get() : (value as T));
  const answer = (event: Event) => {
    const { context: asked, callback, subscribe, contextTarget } = event as RequestEvent;
    // An element does not answer its own request.
    if (asked !== key || !callback || (contextTarget ?? event.composedPath()[0]) === host) return;
    event.stopImmediatePropagation();
    if (!subscribe) return callback(isTracked ? (value as Readable<T>).peek() : value);
    let ended = false;
    let stopEffect: (() => void) | undefined;
    const stop = () => {
      ended = true;
      stops.delete(stop);
      stopEffect?.();
    };
    stops.add(stop);
    stopEffect = effect(() => callback(read(), stop));
    // The first call may have ended the subscription.
    if (ended) stopEffect();
  };
  host.addEventListener('context-request', answer);
  // Earlier requesters may request again.
  host.dispatchEvent(new ContextProvider(key, host));
  return () => {
    host.removeEventListener('context-request', answer);
    for (const stop of stops) stop();
    // Requesters may find a provider further out.
    if (host.isConnected) host.dispatchEvent(new ContextProvider(key, host));
  };
}

/**
 * The value that the nearest ancestor offers, tracked; undefined without a provider. The request is repeated when the
 * element is moved, and when a nearer provider appears. A listener or a hook that reads it asks at that moment.
 *
 * @example apiary = ask(this, apiaryContext);  // in the view: ${() => this.apiary.get()?.name}
 */
export function ask<T>(host: Element, key: Context<T>): Readable<T | undefined> {
  return asked<T | undefined>(
    () => {
      let answer: T | undefined;
      const take: Callback<T> = (value, end) => {
        answer = value;
        end?.();
      };
      host.dispatchEvent(new ContextRequest(key, host, take, false));
      return answer;
    },
    set => {
      let stop: (() => void) | undefined;
      const request = () => {
        stop?.();
        stop = undefined;
        let current = true;
        const event = new ContextRequest<T>(
          key,
          host,
          (value, end) => {
            // An answer to an earlier request.
            if (!current) return end?.();
            stop = () => {
              current = false;
              end?.();
            };
            set(value);
          },
          true,
        );
        host.dispatchEvent(event);
        if (!stop) set(undefined);
      };
      // A provider may appear later, or nearer.
      const { ownerDocument } = host;
      const again = (event: Event) => {
        const { context: offered, contextTarget } = event as Event & { context?: unknown; contextTarget?: Element };
        const from = contextTarget ?? (event.composedPath()[0] as Element);
        if (offered === key && from !== host && mayHear(from, host)) request();
      };
      ownerDocument?.addEventListener('context-provider', again);
      const stay = onMoved(host, () => untracked(request));
      // Signals that the provider reads are not dependencies of the requester.
      untracked(request);
      return () => {
        ownerDocument?.removeEventListener('context-provider', again);
        stay();
        if (stop) untracked(stop);
        // Without an element there is no ancestor.
        set(undefined);
      };
    },
    undefined,
    true,
  );
}

/**
 * Whether an event of the inner element may reach the outer one: it is an ancestor across shadow roots, or is in the
 * shadow tree of an ancestor, and may contain the slot through which the event goes (DOM §2.9, dispatch).
 */
function mayHear(outer: Node, inner: Node): boolean {
  const ancestors = new Set<Node>();
  for (let node: Node | undefined = inner; node; node = parentAcross(node)) ancestors.add(node);
  for (let node: Node | undefined = outer; node; ) {
    if (ancestors.has(node)) return true;
    const root = node.getRootNode();
    // In one tree only ancestors hear.
    if (ancestors.has(root)) return false;
    node = parentAcross(root);
  }
  return false;
}
