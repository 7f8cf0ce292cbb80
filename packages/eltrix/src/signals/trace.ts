/** Development: what happens in elements, told to whoever listens (the gallery's timeline, `inspect`). */
import type { Source } from './graph.ts';
import type { Reaction } from './queue.ts';

export type TraceEntry =
  /** A reaction is brought up to date because these sources have changed. */
  | { readonly kind: 'update'; readonly reaction: Reaction; readonly causes: readonly Source[] }
  | { readonly kind: 'hook'; readonly host: object; readonly name: string }
  | {
      readonly kind: 'attribute';
      readonly host: object;
      readonly name: string;
      readonly before: string | null;
      readonly after: string | null;
    };

type TraceListener = (entry: TraceEntry) => void;

/** One set for the page; production has none. */
const listeners: Set<TraceListener> | undefined = __DEV__
  ? ((globalThis as unknown as Record<symbol, Set<TraceListener>>)[Symbol.for('eltrix.trace.1')] ??= new Set())
  : undefined;

/** Tells of what happens; in production nobody hears. */
export function trace(entry: TraceEntry): void {
  for (const listener of listeners!) listener(entry);
}

/** Tells that a reaction is about to run, and why. */
export function traceUpdate(reaction: Reaction): void {
  if (listeners!.size === 0) return;
  const causes: Source[] = [];
  for (let link = reaction.sources; link !== undefined; link = link.nextSource)
    if (link.source.version !== link.seen) causes.push(link.source);
  trace({ kind: 'update', reaction, causes });
}

/** @returns a function that stops listening; in production nothing ever comes. */
export function listenToTrace(listener: TraceListener): () => void {
  listeners?.add(listener);
  return () => void listeners?.delete(listener);
}
