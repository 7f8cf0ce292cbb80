import {
  check,
  type Derived,
  derives,
  dirty,
  evaluate,
  type Home,
  type Link,
  listening,
  outdated,
  running,
  state,
  track,
  untracked,
} from './graph.ts';

/** Something that can be read and tracked. */
export interface Readable<T> {
  /** The value; a computed, effect or live hole that calls this is told of changes. */
  get(): T;
  /** The value, without being told of changes. */
  peek(): T;
}

export interface SignalOptions<T> {
  /** Whether two values count as the same; `Object.is` unless given. */
  readonly equals?: (before: T, after: T) => boolean;
  /** What messages call it. */
  readonly name?: string;
}

const failed = 128;

class Computed<T> implements Readable<T>, Derived {
  home: Home | undefined = undefined;
  version = 0;
  targets: Link | undefined = undefined;
  run = 0;
  flags = derives | dirty;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  checked = 0;
  readonly fn: () => T;
  readonly equals: ((before: T, after: T) => boolean) | undefined;
  readonly name: string | undefined;
  value: T | undefined = undefined;

  constructor(fn: () => T, options?: SignalOptions<T>) {
    this.fn = fn;
    this.equals = options?.equals;
    this.name = options?.name;
  }

  get(): T {
    if (this.flags & running) throw cycle(this);
    const link = track(this);
    if (this.flags & (dirty | check) || (!(this.flags & listening) && this.checked !== state.epoch)) this.refresh();
    if (link !== undefined) link.seen = this.version;
    if (this.flags & failed) throw this.value;
    return this.value as T;
  }

  peek(): T {
    return untracked(() => this.get());
  }

  isSame(value: T): boolean {
    const { equals } = this;
    return equals === undefined ? Object.is(this.value, value) : untracked(() => equals(this.value as T, value));
  }

  refresh(): void {
    if (!(this.flags & dirty)) {
      if (!outdated(this)) {
        this.flags &= ~check;
        this.checked = state.epoch;
        return;
      }
    }
    const before = this.flags & failed;
    let value: T;
    let failure = 0;
    try {
      value = evaluate(this, this.fn);
      // The author's `equals` may throw too; that is an error of this computed.
      if (this.version > 0 && !before && this.isSame(value)) {
        this.checked = state.epoch;
        return;
      }
    } catch (error) {
      value = error as T;
      failure = failed;
    }
    this.checked = state.epoch;
    if (before && failure && Object.is(this.value, value)) return;
    this.value = value;
    this.flags = (this.flags & ~failed) | failure;
    this.version++;
  }
}

function cycle({ name, fn }: { name: string | undefined; fn: () => unknown }): Error {
  if (!__DEV__) return new Error('computed-cycle');
  return new Error(
    `(computed-cycle): ${(name ?? fn.name) || 'A computed'} reads itself while it is evaluated, directly or through others. Break the circle: let one of them read a plain signal, or use peek().`,
  );
}

/**
 * A value derived from others. It is evaluated when read, at most once per change of what it read; an error is kept
 * and thrown again to each reader until something it read changes.
 *
 * @example const total = computed(() => boxes.get() * 11);
 */
export function computed<T>(fn: () => T, options?: SignalOptions<T>): Readable<T> {
  return new Computed(fn, options);
}
