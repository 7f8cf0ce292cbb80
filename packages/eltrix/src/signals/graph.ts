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
import { check, dirty, listening, outside, running } from './flags.ts';
import { type Link, type Source, state, type Target } from './state.ts';

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
