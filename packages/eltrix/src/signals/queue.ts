import {
  always,
  changed,
  check,
  dirty,
  refuseInComputed,
  running,
  type Source,
  state,
  stopped,
  type Target,
  track,
  unlink,
  within,
} from './graph.ts';
import { page } from './page.ts';
import { report } from './report.ts';
import { traceUpdate } from './trace.ts';

/** A target that acts: an effect, or a hole of a view. */
export interface Reaction extends Target {
  /** Called before it is looked at, if it was made inside another: that goes first, since it may end it. */
  before?(): void;
  /** Evaluates it again; called when something it read has changed. */
  react(): void;
  /** What messages call it. */
  describe?(): string;
}

/** How often a reaction may run in one flush. */
const limit = 100;

interface Queue {
  /** Holes of views, and effects: what an effect measures is what the views show. */
  views: Reaction[];
  effects: Reaction[];
  /** Reactions that are brought up to date before the change returns. */
  prompt: Reaction[];
  /** How many batches are open. */
  depth: number;
  scheduled: boolean;
  flushing: boolean;
  /** Who waits for the queue to be empty. */
  asked: (() => void)[];
}

const key = Symbol.for('eltrix.queue.1');

/** One for the page, so that a batch of one copy of this module holds the changes of another. */
const queue: Queue = ((globalThis as unknown as Record<symbol, Queue>)[key] ??= {
  views: [],
  effects: [],
  prompt: [],
  depth: 0,
  scheduled: false,
  flushing: false,
  asked: [],
});

/** Queues a hole of a view for the microtask after this task. */
export function enqueue(reaction: Reaction): void {
  queue.views.push(reaction);
  if (queue.depth === 0) schedule();
}

/** The same for an effect. */
export function enqueueEffect(reaction: Reaction): void {
  queue.effects.push(reaction);
  if (queue.depth === 0) schedule();
}

const isWaiting = () => queue.views.length > 0 || queue.effects.length > 0;

/** Sees to it that what waits runs. While changes are held together there is time: a batch runs it itself. */
function schedule(): void {
  if (queue.scheduled || queue.flushing || !isWaiting()) return;
  queueMicrotask(flush);
  queue.scheduled = true;
}

/** Queues a reaction for the end of the change that is being made, or of the batch around it. */
export function enqueuePrompt(reaction: Reaction): void {
  queue.prompt.push(reaction);
}

/** What stands for the properties of elements without a graph of their own that something here has read. */
const foreign = new WeakMap<object, Record<string, Source>>();

page.graph ??= {
  read(host, name) {
    if (state.active === undefined) return;
    let sources = foreign.get(host);
    if (sources === undefined) foreign.set(host, (sources = {}));
    track((sources[name] ??= { home: undefined, version: 0, targets: undefined, lastTarget: undefined, run: 0 }));
  },
  wrote(host, name) {
    const source = foreign.get(host)?.[name];
    if (source === undefined) return;
    changed(source);
    afterChange();
  },
  refuseInComputed,
  soon: react => enqueue({ flags: dirty, sources: undefined, tail: undefined, home: undefined, react }),
};

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

/** Runs everything that waits, until nothing does. */
export function flush(): void {
  queue.scheduled = false;
  if (queue.flushing) return;
  queue.flushing = true;
  const runs = new Runs();
  try {
    while (isWaiting()) {
      const reactions = queue.views.length > 0 ? queue.views : queue.effects;
      if (reactions === queue.views) queue.views = [];
      else queue.effects = [];
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

/** The runs of one flush: it counts them, from the second round on. */
class Runs {
  /** Effects whose own run made this flush: they run again when that has ended. */
  readonly later: Reaction[] = [];
  #counts: Map<Reaction, number> | undefined;
  #tired: Set<Reaction> | undefined;

  all(reactions: readonly Reaction[]): void {
    const counts = this.#counts;
    for (let i = 0; i < reactions.length; i++) {
      const reaction = reactions[i]!;
      if (reaction.flags & running) this.later.push(reaction);
      else if (counts === undefined || this.#mayRun(reaction, counts)) update(reaction);
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

/** Runs a reaction if it has to. */
export function update(reaction: Reaction): void {
  if (reaction.flags & within) reaction.before!();
  const { flags, home } = reaction;
  if ((flags & (dirty | check)) === 0 || flags & stopped) return;
  if (home !== undefined && !home.shown && (flags & always) === 0) {
    home.park(reaction);
    return;
  }
  if (flags & dirty || state.outdated!(reaction)) {
    if (__DEV__) traceUpdate(reaction);
    try {
      reaction.react();
    } catch (error) {
      report(error);
    }
  } else reaction.flags &= ~check;
}

/** Takes a reaction out of the graph for good. */
export function stop(reaction: Reaction): void {
  reaction.flags |= stopped;
  unlink(reaction);
}

function reportCycle(reactions: readonly Reaction[]): void {
  for (const reaction of reactions) reaction.flags &= ~(dirty | check);
  if (!__DEV__) return report(new Error('update-cycle'));
  const names = [...new Set(reactions.map(reaction => reaction.describe?.() ?? 'an effect'))];
  report(
    new Error(
      `(update-cycle): ${names.join(' → ')} → ${names[0]} set what they read, ${limit} times in a row. ` +
        'Set only when the value differs, read it with peek(), or compute it. They were left as they are until the next change.',
    ),
  );
}

/**
 * Holds the changes in a function together and shows them before it returns. Nested batches end with the outermost.
 * @returns what the function returns; what it throws comes out, after the changes made until then were shown.
 */
export function batch<T>(fn: () => T): T {
  return hold(fn, flush);
}

/** Makes many changes one: what must not lag behind is brought up to date once, the rest in its microtask. */
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

/** Resolves when no effect and no hole of a view waits to be brought up to date. */
export function settled(): Promise<void> {
  if (!isWaiting() && !queue.flushing) return Promise.resolve();
  return new Promise<void>(resolve => queue.asked.push(resolve)).then(settled);
}
