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
  /** Who reads it, in the order in which they came: the first link and the last. */
  targets: Link | undefined;
  lastTarget: Link | undefined;
  /** The run in which it was last read, so that reading twice links once. */
  run: number;
  /** Brings a computed up to date; a plain source has none. */
  refresh?(): void;
  /** Called when the first target that listens has come. */
  watched?(): void;
  /** Called when the last one has gone. */
  unwatched?(): void;
  /** Development: what messages call it. */
  describe?(): string;
}

export interface Target {
  flags: number;
  sources: Link | undefined;
  tail: Link | undefined;
  home: Home | undefined;
  /**
   * Called when marked for the first time: an effect puts itself into a queue; a computed returns who listens to it, for
   * the mark to be passed on.
   */
  marked?(): Link | undefined;
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
/** A computed whose value is an error. */
export const failed = 128;
/** An effect that runs also while its home is not shown. */
export const always = 256;
/** An effect that was made inside another. */
export const within = 512;
/** A computed whose sources are being looked at: meeting it again there is a cycle. */
export const looking = 1024;

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
  /** Whether anything that a target read has changed since; there once there is a computed. */
  outdated: ((target: Target) => boolean) | undefined;
  /** Reads all of a `live` list or record and returns a copy; there once there is one. */
  readLive: ((value: unknown) => unknown) | undefined;
}

const key = Symbol.for('eltrix.signals.3');

/** One for the page, so that two copies of this module follow each other's signals. */
export const state: State = ((globalThis as unknown as Record<symbol, State>)[key] ??= {
  epoch: 1,
  active: undefined,
  deriving: 0,
  runs: 0,
  run: 0,
  outdated: undefined,
  readLive: undefined,
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

/** Puts a link into its source's list. */
export function list(link: Link): void {
  const { source } = link;
  const last = source.lastTarget;
  link.listed = true;
  link.prevTarget = last;
  source.lastTarget = link;
  if (last !== undefined) {
    last.nextTarget = link;
    return;
  }
  source.targets = link;
  if (source.watched !== undefined) source.watched();
}

/** Takes a link out of its source's list. */
export function unlist(link: Link): void {
  if (!link.listed) return;
  const { source, nextTarget, prevTarget } = link;
  link.listed = false;
  if (nextTarget !== undefined) nextTarget.prevTarget = prevTarget;
  else source.lastTarget = prevTarget;
  if (prevTarget !== undefined) prevTarget.nextTarget = nextTarget;
  else source.targets = nextTarget;
  link.nextTarget = link.prevTarget = undefined;
  if (source.targets === undefined && source.unwatched !== undefined) source.unwatched();
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

/**
 * A source has another value than when it was last followed. Called in `watched`: who is just reading it has not taken
 * its value yet and need not look again.
 */
export function changedUnwatched(source: Source): void {
  source.version++;
  state.epoch++;
  const link = source.targets;
  if (link === undefined) return;
  if (link.target.flags & running) link.seen = source.version;
  else mark(link);
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
        const below: Link | undefined = target.marked!();
        if (below !== undefined) {
          if (waiting === undefined) waiting = [below];
          else waiting.push(below);
        }
      }
      link = link.nextTarget;
    }
    if (waiting === undefined) return;
    link = waiting.pop();
    if (link === undefined) return;
    level = check;
  }
}
