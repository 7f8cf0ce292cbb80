import { Effect, type EffectFunction } from './effect.ts';
import { dirty } from './flags.ts';
import { enqueueMeasure } from './queue.ts';

/** An effect that runs after all views and other effects, so that it measures what will be painted. */
class Measure extends Effect {
  override marked(): undefined {
    enqueueMeasure(this);
  }
}

/**
 * Runs a function once all changes of the DOM in this task have been made, and again in the same way after a change of
 * one of its dependencies. Values that it sets are shown before the next frame.
 *
 * @param host the element that errors are reported with.
 * @returns a function that stops it.
 */
export function measure(fn: EffectFunction, host?: object): () => void {
  const made = new Measure(fn, host);
  made.flags |= dirty;
  enqueueMeasure(made);
  return () => made.stop();
}
