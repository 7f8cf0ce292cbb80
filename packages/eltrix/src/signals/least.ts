import { always, dirty } from './flags.ts';
import { type Followed, foreignKey, type Graph, type Holder, type Member, type Reaction, state } from './state.ts';

/**
 * All dependencies outside the element share one key: a change of any of them runs all of the element's bindings with
 * that key.
 */
function follow(source: Followed): void {
  const active = state.active as Member | undefined;
  if (active === undefined) return;
  active.mask |= 1 << foreignKey;
  (source.followers ??= new Set()).add((active.home.weak ??= new WeakRef(active.home)));
}

/** Notes in the mask of the active target that it reads a value of the same element; false for other values. */
export function isOwn({ home }: Holder, key: number): boolean {
  const active = state.active as Member | undefined;
  // A static element may have no owner of what follows changes.
  if (home === undefined || active?.home !== home) return false;
  active.mask |= 1 << key;
  return true;
}

/** Notifies elements that subscribed before the dependency graph was loaded. */
export function notify(source: Followed): void {
  const { followers } = source;
  if (followers === undefined) return;
  source.followers = undefined;
  for (const home of followers) home.deref()?.changed(1 << foreignKey);
}

const run = (reaction: Reaction) => {
  if (reaction.flags & dirty) reaction.react();
};

/** Replaces the graph on a page where elements depend on nothing but element properties. */
const least: Graph = {
  isWhole: false,
  evaluate(target, fn) {
    const { active } = state;
    state.active = target;
    target.flags &= ~dirty;
    try {
      return fn();
    } finally {
      state.active = active;
    }
  },
  rerun(reaction) {
    if (reaction.home!.shown || reaction.flags & always) run(reaction);
  },
  enqueue: reaction => queueMicrotask(() => run(reaction)),
  prompt: run,
  read(holder, key) {
    if (!isOwn(holder, key)) follow(holder);
  },
  wrote: notify,
  track: follow,
  changed: notify,
  together: fn => fn(),
  unlink() {},
  leave() {},
  refuseInComputed() {},
};

/** Returns the graph, or the stand-in until a graph is loaded. */
export function needGraph(): Graph {
  return (state.graph ??= least);
}
