/**
 * The dependency graph: sources, and the targets that depend on them. A change only marks: direct subscribers become
 * `dirty`, everything below them `check`. Values are pulled later: a computed is evaluated when it is read, an effect
 * when the queue runs. A computed stays in the lists of its sources only while an effect depends on it (`listening`).
 * Otherwise it compares versions when it is read, so that no source keeps it alive. Links are in two doubly linked
 * lists: by target, in the order of reading, and by source.
 */
import { check, derives, dirty, listening, outside, running, stopped } from './flags.ts';
import { type Link, type Reaction, type Source, state, type Target } from './state.ts';

interface Clock {
  /** Counts the changes of all sources. A computed without subscribers compares it first. */
  epoch: number;
  /** How many computeds are running: setting a signal throws meanwhile. */
  deriving: number;
  /** How many evaluations have begun, and the number of the current one. */
  runs: number;
  run: number;
}

const key = Symbol.for('eltrix.clock.1');

/** One for the page, like `state`. */
export const clock: Clock = ((globalThis as unknown as Record<symbol, Clock>)[key] ??= {
  epoch: 1,
  deriving: 0,
  runs: 0,
  run: 0,
});

/** Adds a dependency of the active target. */
export function track(source: Source): Link | undefined {
  const target = state.active;
  if (target === undefined || source.run === clock.run) return undefined;
  source.run = clock.run;
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
    const { home } = target;
    if (home !== undefined && (target.flags & outside) === 0) {
      target.flags |= outside;
      (home.outside ??= new Set()).add(target);
    }
  }
  return link;
}

/** Puts a link into the list of its source. */
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

/** Takes a link out of the list of its source. */
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

/** Removes a target's dependencies: all, or those after the link `after`. */
export function unlink(target: Target, after?: Link): void {
  let link: Link | undefined = after === undefined ? target.sources : after.nextSource;
  if (after === undefined) target.sources = target.tail = undefined;
  else after.nextSource = undefined;
  for (; link !== undefined; link = link.nextSource) unlist(link);
}

/** Runs a function and records its dependencies as those of the target. */
export function evaluate<T>(target: Target, fn: () => T): T {
  const { active } = state;
  const { run, deriving } = clock;
  state.active = target;
  clock.run = ++clock.runs;
  target.tail = undefined;
  target.flags = (target.flags & ~(dirty | check)) | running;
  clock.deriving = target.flags & derives ? deriving + 1 : 0;
  try {
    return fn();
  } finally {
    const tail = target.tail as Link | undefined;
    if (tail === undefined ? target.sources !== undefined : tail.nextSource !== undefined) unlink(target, tail);
    target.flags &= ~running;
    // The function may have stopped the target, or removed its element.
    if (target.flags & stopped) unlink(target);
    else if (target.flags & outside && !target.home!.shown) state.graph!.leave(target.home!);
    state.active = active;
    clock.run = run;
    clock.deriving = deriving;
  }
}

/** @throws Error inside a computed: a computed must not change other values. */
export function refuseInComputed(): void {
  if (clock.deriving > 0) {
    throw new Error(
      __DEV__
        ? '(set-in-computed): A computed sets a signal while it is evaluated. Move the change into an effect, or compute the value instead. Nothing was set.'
        : 'set-in-computed',
    );
  }
}

/** A source has a new value: marks all its subscribers, direct and indirect. */
export function changed(source: Source): void {
  source.version++;
  clock.epoch++;
  if (source.targets !== undefined) mark(source.targets);
}

/**
 * A source has got another value since it last had subscribers. Called in `watched`: the target that is subscribing
 * has not read the value yet, so it is not marked.
 */
export function changedUnwatched(source: Source): void {
  source.version++;
  clock.epoch++;
  const link = source.targets;
  if (link === undefined) return;
  if (link.target.flags & running) link.seen = source.version;
  else mark(link);
}

/** Marks the direct subscribers of a source `dirty` and everything below them `check`, without recursion. */
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
        const below: Link | undefined =
          target.marked === undefined ? void state.graph!.enqueue(target as Reaction) : target.marked();
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
