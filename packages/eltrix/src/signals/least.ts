import { always, dirty } from './flags.ts';
import { type Followed, foreignKey, type Graph, type Member, type Reaction, state } from './state.ts';

/** What a member reads of elsewhere has one key: the element looks again at all of that. */
function follow(source: Followed): void {
  const active = state.active as Member | undefined;
  if (active === undefined) return;
  active.mask |= 1 << foreignKey;
  (source.followers ??= new Set()).add((active.home.weak ??= new WeakRef(active.home)));
}

/** Notifies followers from before the whole graph was loaded. */
export function notify(source: Followed): void {
  const { followers } = source;
  if (followers === undefined) return;
  source.followers = undefined;
  for (const home of followers) home.deref()?.changed(1 << foreignKey);
}

const run = (reaction: Reaction) => {
  if (reaction.flags & dirty) reaction.react();
};

/** What elements need that read nothing but their own properties and those of others. */
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
  read: follow,
  wrote: notify,
  track: follow,
  changed: notify,
  together: fn => fn(),
  unlink() {},
  leave() {},
  refuseInComputed() {},
};

/** For code that needs a graph. */
export function needGraph(): Graph {
  return (state.graph ??= least);
}
