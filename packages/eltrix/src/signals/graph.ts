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
import { check, derives, dirty, listening, outside, running, stopped } from './flags.ts';
import { type Link, type Reaction, type Source, state, type Target } from './state.ts';

interface Clock {
  /** Counts every change of any source; unlistened computeds compare it first. */
  epoch: number;
  /** How many computeds are being evaluated: setting is refused meanwhile. */
  deriving: number;
  /** How many evaluations there have been, and which of them this is. */
  runs: number;
  run: number;
}

const key = Symbol.for('eltrix.clock.1');

/** One for the page, as the state is. */
export const clock: Clock = ((globalThis as unknown as Record<symbol, Clock>)[key] ??= {
  epoch: 1,
  deriving: 0,
  runs: 0,
  run: 0,
});

/** Notes that the active target reads a source. */
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
    // What it called may have ended it, or removed its element.
    if (target.flags & stopped) unlink(target);
    else if (target.flags & outside && !target.home!.shown) state.graph!.leave(target.home!);
    state.active = active;
    clock.run = run;
    clock.deriving = deriving;
  }
}

/** @throws Error inside a computed: what derives a value does not change others. */
export function refuseInComputed(): void {
  if (clock.deriving > 0) {
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
  clock.epoch++;
  if (source.targets !== undefined) mark(source.targets);
}

/**
 * A source has another value than when it was last followed. Called in `watched`: who is just reading it has not taken
 * its value yet and need not look again.
 */
export function changedUnwatched(source: Source): void {
  source.version++;
  clock.epoch++;
  const link = source.targets;
  if (link === undefined) return;
  if (link.target.flags & running) link.seen = source.version;
  else mark(link);
}

/** Marks the targets in a source's list dirty and everything below them `check`, without recursion. */
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
