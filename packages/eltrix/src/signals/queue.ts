import {
  changed,
  check,
  dirty,
  refuseInComputed,
  type Source,
  state,
  stopped,
  type Target,
  track,
  unlink,
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

/** A flag: it runs also while its home is not shown. */
export const always = 256;
/** A flag: it was made inside another. */
export const within = 512;

const limit = 100;

let waiting: Reaction[] = [];
/** Reactions that are brought up to date before the change returns. */
let prompt: Reaction[] = [];
let depth = 0;
let scheduled = false;
let flushing = false;
/** What waits for the queue to be empty, once something has asked. */
let idle: (() => void) | undefined;
let asked: (() => void)[] = [];
/** Runs what is prompt, once something is. */
let runWhatIsPrompt: (() => void) | undefined;

/** Queues a reaction for the microtask after this task. */
export function enqueue(reaction: Reaction): void {
  waiting.push(reaction);
  if (depth === 0) schedule();
}

/** Sees to it that what waits runs. While changes are held together there is time: a batch runs it itself. */
function schedule(): void {
  if (scheduled || flushing || waiting.length === 0) return;
  scheduled = true;
  queueMicrotask(flush);
}

/** Queues a reaction for the end of the change that is being made, or of the batch around it. */
export function enqueuePrompt(reaction: Reaction): void {
  runWhatIsPrompt = runPrompt;
  prompt.push(reaction);
}

/** What stands for the properties of elements without a graph of their own that something here has read. */
const foreign = new WeakMap<object, Record<string, Source>>();

page.graph ??= {
  read(host, name) {
    if (state.active === undefined) return;
    let sources = foreign.get(host);
    if (sources === undefined) foreign.set(host, (sources = {}));
    track((sources[name] ??= { home: undefined, version: 0, targets: undefined, run: 0 }));
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
  if (depth > 0 || runWhatIsPrompt === undefined) return;
  runWhatIsPrompt();
  schedule();
}

function runPrompt(): void {
  if (prompt.length === 0) return;
  depth++;
  try {
    for (let round = 0; prompt.length > 0; round++) {
      const reactions = prompt;
      prompt = [];
      if (round >= limit) return reportCycle(reactions);
      for (const reaction of reactions) update(reaction);
    }
  } finally {
    depth--;
  }
}

/** Runs everything that waits, until nothing does. */
export function flush(): void {
  scheduled = false;
  if (flushing) return;
  flushing = true;
  try {
    for (let round = 0; waiting.length > 0; round++) {
      const reactions = waiting;
      waiting = [];
      if (round >= limit) {
        reportCycle(reactions);
        break;
      }
      for (let i = 0; i < reactions.length; i++) update(reactions[i]!);
    }
  } finally {
    flushing = false;
    idle?.();
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
  depth++;
  try {
    return fn();
  } finally {
    if (depth === 1) runWhatIsPrompt?.();
    if (--depth === 0) end();
  }
}

/** Resolves when no effect and no hole of a view waits to be brought up to date. */
export function settled(): Promise<void> {
  if (waiting.length === 0 && !flushing) return Promise.resolve();
  idle = answer;
  return new Promise<void>(resolve => asked.push(resolve)).then(settled);
}

function answer(): void {
  const resolvers = asked;
  asked = [];
  for (const resolve of resolvers) resolve();
}
