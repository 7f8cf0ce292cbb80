import { limit, reportCycle } from './cycle.ts';
import { dirty, outside, running, stopped } from './flags.ts';
import { changed, evaluate, refuseInComputed, track, unlink } from './graph.ts';
import { isOwn, notify } from './least.ts';
import { rerun } from './reaction.ts';
import { type Graph, type Link, type Reaction, type Source, state } from './state.ts';

interface Queue {
  /** Expressions of views before effects: an effect may measure what views show. */
  views: Reaction[];
  effects: Reaction[];
  /** Measuring effects, after all others. */
  measures: Reaction[];
  /** Reactions that run before the change returns. */
  prompt: Reaction[];
  /** How many batches are open. */
  depth: number;
  scheduled: boolean;
  flushing: boolean;
  /** Callers that await an empty queue. */
  asked: (() => void)[];
}

const key = Symbol.for('eltrix.queue.3');

/** One for the page: a batch of one copy of this module also delays the changes of another copy. */
const queue: Queue = ((globalThis as unknown as Record<symbol, Queue>)[key] ??= {
  views: [],
  effects: [],
  measures: [],
  prompt: [],
  depth: 0,
  scheduled: false,
  flushing: false,
  asked: [],
});

/** Queues an expression of a view for the microtask after this task. */
export function enqueue(reaction: Reaction): void {
  queue.views.push(reaction);
  if (queue.depth === 0) schedule();
}

/** The same for an effect. */
export function enqueueEffect(reaction: Reaction): void {
  queue.effects.push(reaction);
  if (queue.depth === 0) schedule();
}

/** The same for a measuring effect. */
export function enqueueMeasure(reaction: Reaction): void {
  queue.measures.push(reaction);
  if (queue.depth === 0) schedule();
}

const lists = ['views', 'effects', 'measures'] as const;

/** The next reaction to run. */
const nextList = () => lists.find(name => queue[name].length > 0);
const isWaiting = () => nextList() !== undefined;

/** Schedules a flush. During a batch this is not needed: the batch flushes when it ends. */
function schedule(): void {
  if (queue.scheduled || queue.flushing || !isWaiting()) return;
  queueMicrotask(flush);
  queue.scheduled = true;
}

/** Queues a reaction that runs at the end of the current change, or of the batch around it. */
export function enqueuePrompt(reaction: Reaction): void {
  queue.prompt.push(reaction);
}

/** The graph's source for one value of an element or a row. */
class HeldValue implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;
  /** Development: the name that messages print. */
  declare describe?: () => string;
}

/**
 * The graph's side of the interface that elements call with or without a graph. On a page with several copies of the
 * library the first copy's graph counts.
 */
const whole: Graph = {
  isWhole: true,
  evaluate,
  rerun,
  refuseInComputed,
  enqueue,
  prompt(reaction) {
    queue.prompt.push(reaction);
    afterChange();
  },
  read(holder, key) {
    if (isOwn(holder, key)) return;
    holder.held ??= [];
    let source = holder.held[key];
    if (source === undefined) {
      holder.held[key] = source = new HeldValue();
      if (__DEV__) source.describe = () => holder.nameOf?.(key) ?? 'a value';
    }
    track(source);
  },
  wrote(holder, key) {
    notify(holder);
    const source = holder.held?.[key];
    if (source === undefined) return;
    changed(source);
    afterChange();
  },
  track,
  changed(source) {
    notify(source);
    changed(source);
    afterChange();
  },
  together,
  unlink,
  leave(home) {
    const members = home.outside;
    home.outside = undefined;
    for (const member of members ?? []) {
      unlink(member);
      member.flags = (member.flags & ~outside) | dirty;
    }
  },
};

export const graph: Graph = state.graph?.isWhole ? state.graph : (state.graph = whole);

/** Called at the end of every change. */
export function afterChange(): void {
  if (queue.depth > 0 || queue.prompt.length === 0) return;
  runPrompt();
  schedule();
}

/** Flushes reactions that must run before the current call returns (form values, validity, `matches`). */
function runPrompt(): void {
  const runs = new Runs();
  queue.depth++;
  try {
    while (queue.prompt.length > 0) {
      const reactions = queue.prompt;
      queue.prompt = [];
      runs.all(reactions);
    }
  } finally {
    queue.depth--;
    queue.prompt.push(...runs.later);
  }
}

/** Runs the queue until it is empty. */
export function flush(): void {
  queue.scheduled = false;
  if (queue.flushing) return;
  queue.flushing = true;
  const runs = new Runs();
  try {
    for (let name = nextList(); name; name = nextList()) {
      const reactions = queue[name];
      queue[name] = [];
      runs.all(reactions);
    }
  } finally {
    queue.flushing = false;
    for (const one of runs.later) enqueueEffect(one);
    const asked = queue.asked;
    if (asked.length > 0) {
      queue.asked = [];
      for (const answer of asked) answer();
    }
  }
}

/** Counts the runs of one flush, from the second round on, to find cycles. */
class Runs {
  /** Effects that were marked during their own run: they run again afterwards. */
  readonly later: Reaction[] = [];
  #counts: Map<Reaction, number> | undefined;
  #tired: Set<Reaction> | undefined;

  all(reactions: readonly Reaction[]): void {
    const counts = this.#counts;
    for (let i = 0; i < reactions.length; i++) {
      const reaction = reactions[i]!;
      if (reaction.flags & running) this.later.push(reaction);
      else if (counts === undefined || this.#mayRun(reaction, counts)) rerun(reaction);
    }
    this.#counts ??= new Map();
    if (this.#tired === undefined) return;
    reportCycle([...this.#tired]);
    this.#tired = undefined;
  }

  #mayRun(reaction: Reaction, counts: Map<Reaction, number>): boolean {
    const count = (counts.get(reaction) ?? 0) + 1;
    counts.set(reaction, count);
    if (count < limit) return true;
    (this.#tired ??= new Set()).add(reaction);
    return false;
  }
}

/** Removes a reaction from the graph for good. */
export function stop(reaction: Reaction): void {
  reaction.flags |= stopped;
  unlink(reaction);
}

/**
 * Delays updates during a function and applies them before `batch` returns. Nested batches end with the outermost one.
 * @returns what the function returns. If it throws, `batch` applies the changes made so far, then throws the error.
 * @example batch(() => { this.name = 'Rosemary'; this.boxes = 3; });  // one update
 */
export function batch<T>(fn: () => T): T {
  return hold(fn, flush);
}

/**
 * Combines several changes: reactions that must not lag behind run once, at the end; the others run in their
 * microtask.
 */
export function together<T>(fn: () => T): T {
  return hold(fn, schedule);
}

function hold<T>(fn: () => T, end: () => void): T {
  queue.depth++;
  try {
    return fn();
  } finally {
    if (queue.depth === 1 && queue.prompt.length > 0) runPrompt();
    if (--queue.depth === 0) end();
  }
}

/**
 * Resolves when no effect and no expression of a view waits to be brought up to date, also after what slots and
 * observers report in the next microtask.
 * @example card.boxes = 3; await settled(); card.shadowRoot.textContent;  // '3 boxes'
 */
export async function settled(): Promise<void> {
  do {
    if (isWaiting() || queue.flushing) {
      schedule();
      await new Promise<void>(resolve => queue.asked.push(resolve));
    }
    // What was done to the DOM is reported in a microtask that is queued already.
    await undefined;
  } while (isWaiting());
}
