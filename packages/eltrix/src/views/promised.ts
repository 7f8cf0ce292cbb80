/** A promise in an expression. */
import { computed } from '../signals/computed.ts';
import { signal } from '../signals/signal.ts';
import { liveValue } from '../view/placeable.ts';

/** What to show for a promise: each is live, and returns what can stand between tags. */
export interface PromiseViews<T> {
  /**
   * The view while there is no value; `last` is the value of an earlier promise. Without it that value stays, or
   * nothing is shown.
   */
  readonly pending?: (last: T | undefined) => unknown;
  readonly fulfilled: (value: T) => unknown;
  /** Without it the error is thrown at the expression: a region around it shows its fallback. */
  readonly rejected?: ((error: unknown) => unknown) | undefined;
}

type Outcome<T> = { readonly value: T } | { readonly error: unknown };

/** The outcomes of settled promises: a view that is rendered again does not show them as pending. */
const outcomes = new WeakMap<object, Outcome<unknown>>();

/**
 * Shows the state of a promise: pending, fulfilled or rejected. If `source` is a function, it is tracked and called
 * again after a change; the results of earlier promises are dropped.
 *
 * @param source a promise, or a function that returns one; a plain value counts as fulfilled.
 * @example
 * ${promised(() => load(this.hive), {
 *   pending: () => markup`<p>Loading…</p>`,
 *   fulfilled: hive => markup`<h3>${hive.name}</h3>`,
 *   rejected: error => markup`<p>${String(error)}</p>`,
 * })}
 */
export function promised<T>(
  source: PromiseLike<T> | (() => PromiseLike<T> | T),
  { pending, fulfilled, rejected }: PromiseViews<T>,
): () => unknown {
  const current = computed(() => (typeof source === 'function' ? source() : source));
  const outcome = signal<Outcome<T> | undefined>(undefined);
  let followed: unknown;
  let isPending = false;
  let last: { value: T } | undefined;
  const settle = (promise: object, settled: Outcome<T>) => {
    outcomes.set(promise, settled);
    // A newer promise has replaced it.
    if (promise !== followed) return;
    isPending = false;
    if ('value' in settled) last = settled;
    outcome.set(settled);
  };
  return liveValue(() => {
    const promise = current.get();
    if (!isThenable(promise)) {
      followed = promise;
      last = { value: promise as T };
      return fulfilled(promise as T);
    }
    if (promise !== followed) {
      followed = promise;
      isPending = true;
      const known = outcomes.get(promise);
      if (known) settle(promise, known as Outcome<T>);
      else
        promise.then(
          value => settle(promise, { value }),
          error => settle(promise, { error }),
        );
    }
    // Some thenables call back at once.
    const settled = outcome.get();
    if (isPending) return pending ? pending(last?.value) : last && fulfilled(last.value);
    if ('value' in settled!) return fulfilled(settled.value);
    if (rejected) return rejected(settled!.error);
    throw settled!.error;
  });
}

const isThenable = (value: unknown): value is PromiseLike<never> =>
  typeof (value as PromiseLike<unknown> | null)?.then === 'function';
