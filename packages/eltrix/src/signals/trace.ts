/** Development: what happens in elements, told to whoever listens (the gallery's timeline, `inspect`). */
import type { Reaction } from './state.ts';

export type TraceEntry =
  /** A reaction is brought up to date because these sources have changed. */
  | { readonly kind: 'update'; readonly reaction: Reaction; readonly causes: readonly Described[] }
  | { readonly kind: 'hook'; readonly host: object; readonly name: string }
  | {
      readonly kind: 'attribute';
      readonly host: object;
      readonly name: string;
      readonly before: string | null;
      readonly after: string | null;
    };

interface Described {
  describe?(): string;
  /** A computed has it. */
  refresh?(): void;
}

type TraceListener = (entry: TraceEntry) => void;

/** One set for the page; production has none. */
const listeners: Set<TraceListener> | undefined = __DEV__
  ? ((globalThis as unknown as Record<symbol, Set<TraceListener>>)[Symbol.for('eltrix.trace.1')] ??= new Set())
  : undefined;

/** Tells of what happens; in production nobody hears. */
export function trace(entry: TraceEntry): void {
  for (const listener of listeners!) listener(entry);
}

/** What stale values of its home a reaction is run for; set while it is. */
let stale: readonly Described[] = [];

/** Says why the reactions that run in a function do. */
export function because(causes: readonly Described[], run: () => void): void {
  const before = stale;
  stale = causes;
  run();
  stale = before;
}

/** Tells that a reaction is about to run, and why. */
export function traceUpdate(reaction: Reaction): void {
  if (listeners!.size === 0) return;
  const causes: Described[] = [...stale];
  for (let link = reaction.sources; link !== undefined; link = link.nextSource)
    if (link.source.version !== link.seen) causes.push(link.source);
  if (causes.length > 0) trace({ kind: 'update', reaction, causes });
}

/** @returns a function that stops listening; in production nothing ever comes. */
export function listenToTrace(listener: TraceListener): () => void {
  listeners?.add(listener);
  return () => void listeners?.delete(listener);
}
