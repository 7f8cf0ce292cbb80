import { check, dirty, listening, stopped, within } from './flags.ts';
import { evaluate } from './graph.ts';
import { enqueueEffect, stop } from './queue.ts';
import { rerun } from './reaction.ts';
import { report } from './report.ts';
import { type Home, type Link, type Reaction, state, untracked } from './state.ts';

/** A function that runs before the next run of the effect and when the effect stops. */
export type CleanUp = () => void;

// biome-ignore lint/suspicious/noConfusingVoidType: an effect that returns nothing returns void.
export type EffectFunction = () => CleanUp | void;

export class Effect implements Reaction {
  flags = listening;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  home: Home | undefined = undefined;
  readonly owner: Effect | undefined;
  readonly fn: EffectFunction;
  cleanUp: CleanUp | undefined = undefined;
  /** The effects created during the last run, newest first. */
  inner: Effect | undefined = undefined;
  next: Effect | undefined = undefined;
  prev: Effect | undefined = undefined;
  declare describe?: () => string;

  constructor(
    fn: EffectFunction,
    /** The element that an error is reported with. */
    readonly host?: object,
  ) {
    this.fn = fn;
    const owner = state.active instanceof Effect ? state.active : undefined;
    this.owner = owner;
    if (owner) {
      this.flags |= within;
      this.next = owner.inner;
      if (owner.inner) owner.inner.prev = this;
      owner.inner = this;
    }
  }

  before(): void {
    const { owner } = this;
    if (owner === undefined) return;
    if (owner.flags & (dirty | check)) rerun(owner);
    else owner.before();
  }

  marked(): undefined {
    enqueueEffect(this);
  }

  react(): void {
    this.release();
    const cleanUp = evaluate(this, this.fn);
    if (typeof cleanUp !== 'function') return;
    if (this.flags & stopped) runCleanUp(cleanUp, this.host);
    else this.cleanUp = cleanUp;
  }

  /** Stops the effects created inside, then runs the clean-up. */
  release(): void {
    for (let effect = this.inner; effect; effect = effect.next) effect.end();
    this.inner = undefined;
    const { cleanUp } = this;
    this.cleanUp = undefined;
    if (cleanUp) runCleanUp(cleanUp, this.host);
  }

  end(): void {
    if (this.flags & stopped) return;
    stop(this);
    this.release();
  }

  stop(): void {
    this.end();
    const { owner, prev, next } = this;
    if (prev) prev.next = next;
    else if (owner?.inner === this) owner.inner = next;
    if (next) next.prev = prev;
  }
}

if (__DEV__) {
  Effect.prototype.describe = function (this: Effect) {
    return this.fn.name ? `the effect ${this.fn.name}` : 'an effect';
  };
}

function runCleanUp(cleanUp: CleanUp, host: object | undefined): void {
  try {
    untracked(cleanUp);
  } catch (error) {
    report(error, host);
  }
}

/**
 * Runs a function now, and again in a microtask when one of its dependencies has changed. The function may return a
 * clean-up, which runs before the next run and when the effect stops. An effect created inside an effect stops with
 * it.
 *
 * @returns a function that stops it.
 * @throws what the first run throws; errors of later runs go to `reportError`.
 * @example const stop = effect(() => { document.title = `${boxes.get()} boxes`; });
 */
export function effect(fn: EffectFunction): () => void {
  return effectOf(fn);
}

/** The same for an element: errors are reported with the element. */
export function effectOf(fn: EffectFunction, host?: object): () => void {
  const made = new Effect(fn, host);
  try {
    made.react();
  } catch (error) {
    made.stop();
    throw error;
  }
  return () => made.stop();
}
