/** A value from outside the graph, which is only followed while something shows it. */
import type { Readable } from './computed.ts';
import { changed, type Home, type Link, type Source, track, untracked } from './graph.ts';
import { afterChange } from './queue.ts';

/** Begins to follow, and returns a function that stops. What is set before it returns is there for the first reader. */
type Follow<T> = (set: (value: T) => void) => () => void;

export class Outside<T> implements Readable<T>, Source {
  home: Home | undefined = undefined;
  version = 0;
  targets: Link | undefined = undefined;
  run = 0;
  #stop: (() => void) | undefined;
  #starting = false;

  constructor(
    public current: T,
    readonly follow: Follow<T>,
  ) {}

  get(): T {
    track(this);
    return this.current;
  }

  peek(): T {
    return this.current;
  }

  set(value: T): void {
    if (Object.is(value, this.current)) return;
    this.current = value;
    if (this.#starting) return;
    changed(this);
    afterChange();
  }

  watched(): void {
    this.#starting = true;
    // What it reads and makes is its own affair, not that of its first reader.
    this.#stop = untracked(() => this.follow(value => this.set(value)));
    this.#starting = false;
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
