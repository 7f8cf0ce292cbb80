import { Effect, type EffectFunction } from './effect.ts';
import { dirty } from './flags.ts';
import { enqueueMeasure } from './queue.ts';

/** An effect that runs when views and effects are up to date, so what it measures is what will be painted. */
class Measure extends Effect {
  override marked(): undefined {
    enqueueMeasure(this);
  }
}

/**
 * Runs a function once all changes of the DOM of this task have been made, and again in the same way when something that it
 * read has changed. What it sets is shown before the next frame.
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
