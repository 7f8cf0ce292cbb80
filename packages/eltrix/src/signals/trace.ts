/** Development: events in the life of elements, for listeners such as the gallery's timeline and `inspect`. */
import type { Member, Reaction } from './state.ts';

export type TraceEntry =
  /** A reaction is brought up to date because these sources have changed. */
  | { readonly kind: 'update'; readonly reaction: Reaction; readonly causes: readonly Described[] }
  | { readonly kind: 'hook'; readonly host: object; readonly name: string }
  /** Its view is made. */
  | { readonly kind: 'view'; readonly host: object }
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

/** May return what is called when that which it heard of has ended. */
// biome-ignore lint/suspicious/noConfusingVoidType: most listeners return nothing.
type TraceListener = (entry: TraceEntry) => (() => void) | void;

/** One set for the page; production has none. */
const listeners: Set<TraceListener> | undefined = __DEV__
  ? ((globalThis as unknown as Record<symbol, Set<TraceListener>>)[Symbol.for('eltrix.trace.1')] ??= new Set())
  : undefined;

/**
 * Reports an event to the listeners; does nothing in production.
 * @returns a function to call when it has ended.
 */
export function trace(entry: TraceEntry): () => void {
  const ends: (() => void)[] = [];
  for (const listener of listeners!) {
    const end = listener(entry);
    if (end) ends.push(end);
  }
  return () => {
    for (const end of ends) end();
  };
}

/** A value of an element that has changed, by the bit of its key. */
export interface StaleValue extends Described {
  readonly bit: number;
}

/** The values of their home that reactions are run for; set while they are. */
let stale: readonly StaleValue[] = [];

/** Says why the reactions that run in a function do. */
export function because(causes: readonly StaleValue[], run: () => void): void {
  const before = stale;
  stale = causes;
  run();
  stale = before;
}

/** Reports that a reaction is about to run, and why. @returns a function to call when it has run. */
export function traceUpdate(reaction: Reaction): (() => void) | undefined {
  if (listeners!.size === 0) return undefined;
  const { mask = 0 } = reaction as Partial<Member>;
  const causes: Described[] = stale.filter(({ bit }) => mask & bit);
  for (let link = reaction.sources; link !== undefined; link = link.nextSource)
    if (link.source.version !== link.seen) causes.push(link.source);
  return causes.length > 0 ? trace({ kind: 'update', reaction, causes }) : undefined;
}

/** @returns a function that stops listening; in production nothing ever comes. */
export function listenToTrace(listener: TraceListener): () => void {
  listeners?.add(listener);
  return () => void listeners?.delete(listener);
}
