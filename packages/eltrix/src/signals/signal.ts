import type { Readable, SignalOptions } from './computed.ts';
import { changed, refuseInComputed, track } from './graph.ts';
import { afterChange } from './queue.ts';
import { readable } from './readable.ts';
import { type Link, type Source, untracked } from './state.ts';

/** A value that can be read, tracked and set. */
export interface Signal<T> extends Readable<T> {
  /** @throws Error inside a computed. */
  set(value: T): void;
}

/** A source with a value. */
export class Cell<T> implements Signal<T>, Source {
  /** Development: the name that messages print. */
  declare describe?: () => string;
  declare watched?: () => void;
  declare unwatched?: () => void;
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;
  current: T;
  readonly equals: ((before: T, after: T) => boolean) | undefined;
  readonly name: string | undefined;

  get [readable](): true {
    return true;
  }

  constructor(value: T, options?: SignalOptions<T>) {
    this.current = value;
    this.equals = options?.equals;
    this.name = options?.name;
  }

  get(): T {
    track(this);
    return this.current;
  }

  peek(): T {
    return this.current;
  }

  set(value: T): void {
    refuseInComputed();
    const { equals } = this;
    if (equals === undefined ? Object.is(this.current, value) : untracked(() => equals(this.current, value))) return;
    this.current = value;
    changed(this);
    afterChange();
  }
}

if (__DEV__) {
  Cell.prototype.describe = function (this: Cell<unknown>) {
    return this.name ? `signal "${this.name}"` : 'a signal';
  };
}

/**
 * A value that computeds, effects and views can depend on.
 *
 * @example
 * const boxes = signal(2);
 * effect(() => console.log(boxes.get()));
 * boxes.set(3);
 */
export function signal<T>(value: T, options?: SignalOptions<T>): Signal<T> {
  return new Cell(value, options);
}
