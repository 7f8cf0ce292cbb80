import { check, derives, dirty, failed, listening, looking, running } from './flags.ts';
import { clock, evaluate, list, track, unlist } from './graph.ts';
import { graph } from './queue.ts';
import { type Home, type Link, type Source, type Target, untracked } from './state.ts';

/** Something that can be read and tracked. */
export interface Readable<T> {
  /** The value; a computed, effect or live expression that calls this runs again after a change. */
  get(): T;
  /** The value, without tracking it. */
  peek(): T;
}

export interface SignalOptions<T> {
  /** Whether two values count as the same; `Object.is` unless given. */
  readonly equals?: (before: T, after: T) => boolean;
  /** What messages call it. */
  readonly name?: string;
}

/** A computed: what it read is above it, what read it below. */
export interface Derived extends Source, Target {
  /** The epoch in which it was last known to be up to date, while nothing listens. */
  checked: number;
}

/** Computeds that are to begin or to stop listening: a long chain is walked without recursion. */
let pending: Derived[] | undefined;

/** Calls a function for a computed, and for those that come up meanwhile. */
function walk(first: Derived, visit: (computed: Derived) => void): void {
  if (pending !== undefined) return void pending.push(first);
  pending = [first];
  for (let computed = pending.pop(); computed !== undefined; computed = pending.pop()) visit(computed);
  pending = undefined;
}

/**
 * Whoever listens and is not marked is up to date, or else is looked at in the pull that is under way. So what an up to
 * date computed read is known to be up to date as well: marked `check`, it would hold back the next mark for ever.
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
    // Tracked also in a cycle: its members look again once one of them reads something else.
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
      // A circle that was looked at has evaluated it already.
      if (this.checked === clock.epoch) return;
    }
    const before = this.flags & failed;
    let value: T;
    let failure = 0;
    try {
      value = evaluate(this, this.fn);
      // The author's `equals` may throw too; that is an error of this computed.
      if (this.version > 0 && !before && this.isSame(value)) {
        this.checked = clock.epoch;
        return;
      }
    } catch (error) {
      value = error as T;
      failure = failed;
    }
    this.checked = clock.epoch;
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
 * A value derived from others. It is evaluated when read, at most once per change of what it read; an error is kept
 * and thrown again to each reader until something it read changes.
 *
 * @example const total = computed(() => boxes.get() * 11);
 */
export function computed<T>(fn: () => T, options?: SignalOptions<T>): Readable<T> {
  return new Computed(fn, options);
}

/**
 * Whether anything that a target read has changed since. Computeds on the way are brought up to date, deepest
 * first and without recursion, so that a long chain does not exhaust the stack.
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
          // A circle: evaluating its member says whether it is still closed.
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
    // The computed `current` is decided: run it again, or note that it is up to date. In a circle that opened it was
    // evaluated meanwhile.
    const computed = current as Derived;
    computed.flags &= ~looking;
    if (!changed) settle(computed);
    else if (computed.checked !== clock.epoch) computed.flags |= dirty;
    const up = path.pop()!;
    current = up.target;
    link = up;
  }
}

/** A computed with sources that neither is known to be dirty nor known to be up to date. */
function needsLook(computed: Derived): boolean {
  const { flags } = computed;
  if (flags & dirty) return false;
  return flags & listening ? (flags & check) !== 0 : computed.checked !== clock.epoch;
}

function settle(computed: Derived): void {
  computed.flags &= ~check;
  computed.checked = clock.epoch;
}
