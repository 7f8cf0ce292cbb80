import { check, derives, dirty, failed, listening, looking, running } from './flags.ts';
import { clock, evaluate, list, track, unlist } from './graph.ts';
import { graph } from './queue.ts';
import { readable } from './readable.ts';
import { type Home, type Link, type Source, type Target, untracked } from './state.ts';

/** Something that can be read and tracked. */
export interface Readable<T> {
  /**
   * The current value. A computed, effect or live expression that calls `get()` depends on it and runs again after a
   * change.
   */
  get(): T;
  /** The current value, without a dependency. */
  peek(): T;
}

export interface SignalOptions<T> {
  /** Compares two values; a value equal to the previous one notifies no subscriber. `Object.is` unless given. */
  readonly equals?: ((before: T, after: T) => boolean) | undefined;
  /** The name that messages print. */
  readonly name?: string | undefined;
}

/** A computed is a source for its subscribers and a target of the sources that it reads. */
export interface Derived extends Source, Target {
  /** The epoch (see `clock`) in which a computed without subscribers was last validated. */
  checked: number;
}

/** Computeds that are waiting to start or stop listening. A queue, since a long chain would exhaust the stack. */
let pending: Derived[] | undefined;

/** Calls a function for a computed, then for each computed that the function adds to the queue. */
function walk(first: Derived, visit: (computed: Derived) => void): void {
  if (pending !== undefined) return void pending.push(first);
  pending = [first];
  for (let computed = pending.pop(); computed !== undefined; computed = pending.pop()) visit(computed);
  pending = undefined;
}

/**
 * Puts a computed into the lists of its sources. Invariant: a listening target without a mark is up to date. So the
 * sources of an up to date computed count as up to date too: a source marked `check` would swallow its next mark, and
 * the computed would stay stale for ever.
 */
function listen(computed: Derived): void {
  if (computed.flags & listening) return;
  const known = computed.checked === clock.epoch;
  computed.flags = known ? (computed.flags & ~check) | listening : computed.flags | listening | check;
  for (let link = computed.sources; link !== undefined; link = link.nextSource) {
    if (link.listed) continue;
    const source = link.source as Partial<Derived>;
    if (known && source.checked !== undefined) source.checked = clock.epoch;
    list(link);
  }
}

function unlisten(computed: Derived): void {
  computed.flags &= ~listening;
  for (let link = computed.sources; link !== undefined; link = link.nextSource) unlist(link);
}

class Computed<T> implements Readable<T>, Derived {
  home: Home | undefined = undefined;
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
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
    graph.outdated ??= outdated;
  }

  get [readable](): true {
    return true;
  }

  watched(): void {
    walk(this, listen);
  }

  unwatched(): void {
    walk(this, unlisten);
  }

  marked(): Link | undefined {
    return this.targets;
  }

  get(): T {
    // Tracked in a cycle as well: its computeds have to run again when one of them reads something else.
    const link = track(this);
    if (this.flags & running) throw cycle(this);
    if (this.flags & (dirty | check) || (!(this.flags & listening) && this.checked !== clock.epoch)) this.refresh();
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
      if (!outdated(this)) return settle(this);
      // `outdated` has already evaluated the computeds of a cycle.
      if (this.checked === clock.epoch) return;
    }
    const before = this.flags & failed;
    // Not the epoch after the evaluation: it may have read what differs at each reading.
    const { epoch } = clock;
    let value: T;
    let failure = 0;
    try {
      value = evaluate(this, this.fn);
      // `equals` is the author's function: an error in it is an error of this computed.
      if (this.version > 0 && !before && this.isSame(value)) {
        this.checked = epoch;
        return;
      }
    } catch (error) {
      value = error as T;
      failure = failed;
    }
    this.checked = epoch;
    if (before && failure && Object.is(this.value, value)) return;
    this.value = value;
    this.flags = (this.flags & ~failed) | failure;
    this.version++;
  }
}

if (__DEV__) {
  (Computed.prototype as Source).describe = function (this: Computed<unknown>) {
    return this.name ? `computed "${this.name}"` : 'a computed';
  };
}

function cycle({ name, fn }: { name: string | undefined; fn: () => unknown }): Error {
  if (!__DEV__) return new Error('computed-cycle');
  return new Error(
    `(computed-cycle): ${(name ?? fn.name) || 'A computed'} reads itself while it is evaluated, directly or through others. Break the circle: let one of them read a plain signal, or use peek().`,
  );
}

/**
 * A value derived from others. It is evaluated when it is read, and at most once after each change of a dependency. An
 * error is kept and thrown to each reader until a dependency changes.
 *
 * @example const total = computed(() => boxes.get() * 11);
 */
export function computed<T>(fn: () => T, options?: SignalOptions<T>): Readable<T> {
  return new Computed(fn, options);
}

/**
 * Whether a dependency of a target has changed since the target's last run. Brings computeds on the path up to date,
 * deepest first and without recursion, so that a long chain does not exhaust the stack.
 */
function outdated(target: Target): boolean {
  let link = target.sources;
  let current = target;
  let path: Link[] | undefined;
  const isFirst = (target.flags & (derives | looking)) === derives;
  if (isFirst) target.flags |= looking;
  for (;;) {
    let changed = false;
    while (link !== undefined) {
      const { source } = link;
      if (source.refresh !== undefined) {
        const computed = source as Derived;
        if (computed.flags & (running | looking)) {
          // A cycle: evaluating this computed shows whether the cycle is still closed.
          changed = true;
          break;
        }
        if (needsLook(computed)) {
          computed.flags |= looking;
          if (path === undefined) path = [link];
          else path.push(link);
          current = computed;
          link = computed.sources;
          continue;
        }
        if (computed.flags & dirty) source.refresh();
      }
      if (source.version !== link.seen) {
        changed = true;
        break;
      }
      link = link.nextSource;
    }
    if (path === undefined || path.length === 0) {
      if (isFirst) target.flags &= ~looking;
      return changed;
    }
    // All sources of `current` are known: run it again, or mark it as up to date. A cycle that has opened was evaluated
    // on the way.
    const computed = current as Derived;
    computed.flags &= ~looking;
    if (!changed) settle(computed);
    else if (computed.checked !== clock.epoch) computed.flags |= dirty;
    const up = path.pop()!;
    current = up.target;
    link = up;
  }
}

/** Whether a computed is neither known to be dirty nor known to be up to date. */
function needsLook(computed: Derived): boolean {
  const { flags } = computed;
  if (flags & dirty) return false;
  return flags & listening ? (flags & check) !== 0 : computed.checked !== clock.epoch;
}

function settle(computed: Derived): void {
  computed.flags &= ~check;
  computed.checked = clock.epoch;
}
