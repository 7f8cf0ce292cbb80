/** A value from outside the graph, which is only followed while something shows it. */
import type { Readable } from './computed.ts';
import { changed, untracked } from './graph.ts';
import { afterChange } from './queue.ts';
import { Cell } from './signal.ts';

/** Begins to follow, and returns a function that stops. What is set before it returns is there for the first reader. */
type Follow<T> = (set: (value: T) => void) => () => void;

export class Outside<T> extends Cell<T> {
  #stop: (() => void) | undefined;
  #isStarting = false;

  constructor(
    current: T,
    readonly follow: Follow<T>,
  ) {
    super(current);
  }

  /** Unlike a signal's it may be called while a computed is evaluated: that may be what began to follow, or stopped. */
  override set(value: T): void {
    if (Object.is(value, this.current)) return;
    this.current = value;
    if (this.#isStarting) return;
    changed(this);
    afterChange();
  }

  watched(): void {
    this.#isStarting = true;
    // What it reads and makes is its own affair, not that of its first reader.
    this.#stop = untracked(() => this.follow(value => this.set(value)));
    this.#isStarting = false;
  }

  unwatched(): void {
    const stop = this.#stop;
    this.#stop = undefined;
    if (stop) untracked(stop);
  }
}

/**
 * A signal for something that is not one: it follows while an effect or a live hole of a connected element reads it,
 * and is let go with the last of them.
 */
export function outside<T>(initial: T, follow: Follow<T>): Readable<T> {
  return new Outside(initial, follow);
}
