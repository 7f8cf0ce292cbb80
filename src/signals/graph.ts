/**
 * The graph of sources and targets: who read what, and who has to look again.
 *
 * A change walks down at once and only marks: what read the changed source itself is `dirty`, what hangs below is
 * `check`. Values are pulled up later: a computed when it is read, an effect when the queue runs. A computed is
 * listed with its sources only while an effect needs it (it is then `live`); else it is validated by versions
 * when read, so that nothing keeps it alive.
 *
 * Links are kept in two doubly linked lists, by target (in reading order) and by source.
 */

/** One reading: `target` read `source` when that had version `seen`. */
export interface Link {
  readonly source: Source;
  readonly target: Target;
  seen: number;
  nextSource: Link | undefined;
  nextTarget: Link | undefined;
  prevTarget: Link | undefined;
  /** Whether it stands in the source's list. */
  listed: boolean;
}

/**
 * Where a source or an effect belongs, for elements: an effect of one home may stay linked to sources of the same
 * home for ever, since they die together. Links that lead elsewhere are given up while the home is not shown.
 */
export interface Home {
  /** Whether effects of this home run; where not, `park` keeps them until it is. */
  shown: boolean;
  /** An effect read something of another home. */
  reachesOut(effect: Target): void;
  /** An effect that has to run, but its home is not shown. */
  park(effect: Target): void;
}

export interface Source {
  home: Home | undefined;
  version: number;
  targets: Link | undefined;
  /** The run in which it was last read, so that reading twice links once. */
  run: number;
  /** Brings a computed up to date; a plain source has none. */
  refresh?(): void;
  /** Called when the last target has gone. */
  unwatched?(): void;
}

export interface Target {
  flags: number;
  sources: Link | undefined;
  tail: Link | undefined;
  home: Home | undefined;
  /** Called when marked for the first time: an effect puts itself into a queue, a computed passes the mark on. */
  marked?(): void;
}

/** A computed: what it read is above it, what read it below. */
export interface Derived extends Source, Target {
  /** The epoch in which it was last known to be up to date, while nobody listens. */
  checked: number;
}

/** A direct source changed: run again. */
export const dirty = 1;
/** Something further up changed: look at the versions of the sources first. */
export const check = 2;
/** It is being evaluated. */
export const running = 4;
/** Its links are listed with their sources: an effect, or a computed that one needs. */
export const listening = 8;
/** It is an effect that has been stopped. */
export const stopped = 16;
/** It is a computed. */
export const derives = 32;
/** It read something beyond its home, which was told. */
export const outside = 64;

interface State {
  /** Counts every change of any source; unlistened computeds compare it first. */
  epoch: number;
  /** The target that is being evaluated and records what it reads. */
  active: Target | undefined;
  /** How many computeds are being evaluated: setting is refused meanwhile. */
  deriving: number;
  /** How many evaluations there have been, and which of them this is. */
  runs: number;
  run: number;
}

const key = Symbol.for('eltrix.signals.1');

/** One for the page, so that two copies of this module follow each other's signals. */
export const state: State = ((globalThis as unknown as Record<symbol, State>)[key] ??= {
  epoch: 1,
  active: undefined,
  deriving: 0,
  runs: 0,
  run: 0,
});

/** Notes that the active target reads a source. */
export function track(source: Source): Link | undefined {
  const target = state.active;
  if (target === undefined || source.run === state.run) return undefined;
  source.run = state.run;
  const tail = target.tail;
  const next = tail === undefined ? target.sources : tail.nextSource;
  if (next !== undefined && next.source === source) {
    next.seen = source.version;
    target.tail = next;
    return next;
  }
  const link: Link = {
    source,
    target,
    seen: source.version,
    nextSource: next,
    nextTarget: undefined,
    prevTarget: undefined,
    listed: false,
  };
  if (tail === undefined) target.sources = link;
  else tail.nextSource = link;
  target.tail = link;
  if (target.flags & listening) {
    list(link);
    if (source.home !== target.home && target.home !== undefined && (target.flags & outside) === 0) {
      target.flags |= outside;
      target.home.reachesOut(target);
    }
  }
  return link;
}

/** Puts a link into its source's list; a computed that gets its first reader begins to listen itself. */
function list(link: Link): void {
  const { source } = link;
  const head = source.targets;
  link.listed = true;
  link.nextTarget = head;
  if (head !== undefined) head.prevTarget = link;
  source.targets = link;
  if (head === undefined && source.refresh !== undefined) listen(source as Derived);
}

/** Computeds that are to begin or to stop listening: a long chain is walked without recursion. */
let pending: Derived[] | undefined;

function listen(first: Derived): void {
  if (pending !== undefined) return void pending.push(first);
  pending = [first];
  for (let computed = pending.pop(); computed !== undefined; computed = pending.pop()) {
    if (computed.flags & listening) continue;
    computed.flags |= listening | (computed.checked === state.epoch ? 0 : check);
    for (let link = computed.sources; link !== undefined; link = link.nextSource) if (!link.listed) list(link);
  }
  pending = undefined;
}

/** Takes a link out of its source's list; a computed that lost its last reader stops listening. */
function unlist(link: Link): void {
  if (!link.listed) return;
  const { source, nextTarget, prevTarget } = link;
  link.listed = false;
  if (nextTarget !== undefined) nextTarget.prevTarget = prevTarget;
  if (prevTarget !== undefined) prevTarget.nextTarget = nextTarget;
  else {
    source.targets = nextTarget;
    if (nextTarget === undefined) {
      if (source.refresh !== undefined) unlisten(source as Derived);
      source.unwatched?.();
    }
  }
  link.nextTarget = link.prevTarget = undefined;
}

function unlisten(first: Derived): void {
  if (pending !== undefined) return void pending.push(first);
  pending = [first];
  for (let computed = pending.pop(); computed !== undefined; computed = pending.pop()) {
    computed.flags &= ~listening;
    for (let link = computed.sources; link !== undefined; link = link.nextSource) unlist(link);
  }
  pending = undefined;
}

/** Forgets what a target read; with `after`, only what stands behind that link. */
export function unlink(target: Target, after?: Link): void {
  let link: Link | undefined = after === undefined ? target.sources : after.nextSource;
  if (after === undefined) target.sources = target.tail = undefined;
  else after.nextSource = undefined;
  for (; link !== undefined; link = link.nextSource) unlist(link);
}

/** Runs a function as the target's evaluation, recording what it reads. */
export function evaluate<T>(target: Target, fn: () => T): T {
  const { active, run, deriving } = state;
  state.active = target;
  state.run = ++state.runs;
  target.tail = undefined;
  target.flags = (target.flags & ~(dirty | check)) | running;
  state.deriving = target.flags & derives ? deriving + 1 : 0;
  try {
    return fn();
  } finally {
    const tail = target.tail as Link | undefined;
    if (tail === undefined ? target.sources !== undefined : tail.nextSource !== undefined) unlink(target, tail);
    target.flags &= ~running;
    state.active = active;
    state.run = run;
    state.deriving = deriving;
  }
}

/** Runs a function whose readings nobody records. */
export function untracked<T>(fn: () => T): T {
  const { active, run } = state;
  state.active = undefined;
  state.run = 0;
  try {
    return fn();
  } finally {
    state.active = active;
    state.run = run;
  }
}

/** @throws Error inside a computed: what derives a value does not change others. */
export function refuseInComputed(): void {
  if (state.deriving > 0) {
    throw new Error(
      __DEV__
        ? '(set-in-computed): A computed sets a signal while it is evaluated. Move the change into an effect, or compute the value instead. Nothing was set.'
        : 'set-in-computed',
    );
  }
}

/** A source has a new value: marks everything below it. */
export function changed(source: Source): void {
  source.version++;
  state.epoch++;
  if (source.targets !== undefined) mark(source.targets);
}

/** Marks the targets in a source's list dirty and whatever hangs below them `check`, without recursion. */
function mark(first: Link): void {
  let link: Link | undefined = first;
  let level = dirty;
  let waiting: Link[] | undefined;
  for (;;) {
    while (link !== undefined) {
      const target: Target = link.target;
      const before: number = target.flags;
      target.flags = before | level;
      if ((before & (dirty | check)) === 0) {
        if (before & derives) {
          const below = (target as unknown as Source).targets;
          if (below !== undefined) {
            if (waiting === undefined) waiting = [below];
            else waiting.push(below);
          }
        } else target.marked!();
      }
      link = link.nextTarget;
    }
    if (waiting === undefined) return;
    link = waiting.pop();
    if (link === undefined) return;
    level = check;
  }
}

/**
 * Whether anything that a target read has changed since. Computeds on the way are brought up to date, deepest
 * first and without recursion, so that a long chain does not exhaust the stack.
 */
export function outdated(target: Target): boolean {
  let link = target.sources;
  let current = target;
  let path: Link[] | undefined;
  for (;;) {
    let changed = false;
    while (link !== undefined) {
      const { source } = link;
      if (source.refresh !== undefined) {
        const computed = source as Derived;
        if (computed.flags & running) {
          // A circle that closes in this very pull: evaluating the target meets it and throws.
          changed = true;
          break;
        }
        if (needsLook(computed)) {
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
    if (path === undefined || path.length === 0) return changed;
    // The computed `current` is decided: run it again, or note that it is up to date.
    if (changed) current.flags |= dirty;
    else settle(current as Derived);
    const up = path.pop()!;
    current = up.target;
    link = up;
  }
}

/** A computed with sources that neither is known to be dirty nor known to be up to date. */
function needsLook(computed: Derived): boolean {
  const { flags } = computed;
  if (flags & dirty) return false;
  return flags & listening ? (flags & check) !== 0 : computed.checked !== state.epoch;
}

function settle(computed: Derived): void {
  computed.flags &= ~check;
  computed.checked = state.epoch;
}
