/**
 * What is being evaluated, and what it reads. An element that follows nothing but its own properties needs no more than
 * this: each binding of its view notes in a mask which of them it has read. Signals, computeds and effects bring the graph
 * (`graph.ts`), which follows everything else.
 */

/** One reading: `target` read `source` when that had version `seen`. */
export interface Link {
  readonly source: Source;
  readonly target: Target;
  seen: number;
  nextSource: Link | undefined;
  nextTarget: Link | undefined;
  prevTarget: Link | undefined;
  /** Whether it stands in the source's list. */
  listed: boolean;
}

export interface Source {
  version: number;
  /** Who reads it, in the order in which they came: the first link and the last. */
  targets: Link | undefined;
  lastTarget: Link | undefined;
  /** The run in which it was last read, so that reading twice links once. */
  run: number;
  /** Brings a computed up to date; a plain source has none. */
  refresh?(): void;
  /** Called when the first target that listens has come. */
  watched?(): void;
  /** Called when the last one has gone. */
  unwatched?(): void;
  /** Development: what messages call it. */
  describe?(): string;
}

export interface Target {
  flags: number;
  sources: Link | undefined;
  tail: Link | undefined;
  home: Home | undefined;
  /**
   * Called when marked for the first time: a computed returns who listens to it, for the mark to be passed on. Without
   * it the target is put into the queue of views.
   */
  marked?(): Link | undefined;
}

/** A target that acts: an effect, a binding of a view, an element that looks through its view. */
export interface Reaction extends Target {
  /** Called before it is looked at, if it was made inside another: that goes first, since it may end it. */
  before?(): void;
  /** Evaluates it again; called when something it read has changed. */
  react(): void;
  /** What messages call it. */
  describe?(): string;
}

/** What belongs to an element: it notes which of the element's values it has read. */
export interface Member extends Reaction {
  readonly home: Home;
  /** A bit for each value of its home that was read in the last run, by `Holder` key. */
  mask: number;
}

/**
 * Where members belong. Links that lead beyond it are given up while it is not shown, so that nothing outside keeps it
 * alive.
 */
export interface Home {
  /** Whether members run; where not, they stay marked until it is. */
  readonly shown: boolean;
  /** Bits of values that have changed and that no member was asked about yet. */
  readonly stale: number;
  /** Members that read something beyond. */
  outside?: Set<Target> | undefined;
  /** Values have changed, by the bits of their keys. */
  changed(bits: number): void;
  /** Runs the members that have read what is stale. */
  look(): unknown;
  /** For what it read of another element while the page has no graph. */
  weak?: WeakRef<Home> | undefined;
}

/** Something that elements follow. */
export interface Followed {
  /** Elements whose members have read it, while the page has no graph. */
  followers?: Set<WeakRef<Home>> | undefined;
}

/** Something with values that members read, each with a key from 0 to 31: an element's properties, a row's item. */
export interface Holder extends Followed {
  readonly home: Home;
  /** What stands for its values in the graph, for those who are no members of its home. */
  held?: (Source | undefined)[] | undefined;
  /** Development: what messages call a value. */
  nameOf?(key: number): string;
}

/** Keys that are not properties. Properties have 0 to 27; from the 29th on they share. */
export const slotsKey = 28;
export const foreignKey = 29;
export const itemKey = 30;
export const positionKey = 31;
export const keyOf = (index: number) => index % slotsKey;

/** Follows what is read: the least (`least.ts`) all that lies outside an element as one, the whole (`queue.ts`) each source. */
export interface Graph {
  readonly isWhole: boolean;
  /** Runs a function as the target's evaluation, recording what it reads. */
  evaluate<T>(target: Target, fn: () => T): T;
  /** Runs a reaction if something that it read has changed. While its home is not shown it stays marked. */
  rerun(reaction: Reaction): void;
  /** Puts a reaction into the queue. */
  enqueue(reaction: Reaction): void;
  /** Runs a reaction before the change that is being made, or the batch around it, returns. */
  prompt(reaction: Reaction): void;
  /** Follows a value of a holder. */
  read(holder: Holder, key: number): void;
  /** It has changed. */
  wrote(holder: Holder, key: number): void;
  track(source: Source & Followed): void;
  changed(source: Source & Followed): void;
  /** Makes many changes one: what must not lag behind is brought up to date once. */
  together<T>(fn: () => T): T;
  /** Forgets what a target read; with `after`, only what stands behind that link. */
  unlink(target: Target, after?: Link): void;
  /** A home is not shown any more. */
  leave(home: Home): void;
  /** @throws Error inside a computed: what derives a value does not change others. */
  refuseInComputed(): void;
  /** Whether anything that a target read has changed since; there once there is a computed. */
  outdated?: (target: Target) => boolean;
}

/** What there is once there is a `live` list or record. */
interface Live {
  /** Reads all of one and returns a copy; anything else as it is. */
  read(value: unknown): unknown;
  /** Reads the items of a list; undefined for anything else. */
  items(value: unknown): unknown[] | undefined;
  /** The object behind one. */
  original<T>(value: T): T;
}

/** What a request has brought: its HTTP status, and what was read of it. */
export interface RequestAnswer {
  readonly status: number;
  readonly value: unknown;
}

export interface Requests {
  /** An answer that is known already. */
  find(address: string): RequestAnswer | undefined;
  /** A request is on its way. */
  sent?(address: string, answered: Promise<RequestAnswer | undefined>): void;
}

/** What is done with errors that are reported; there once something asks for them. */
export interface Errors {
  /** Returns true if the error is handled and need not be reported. */
  handle?(error: unknown, host: object | undefined): boolean;
  /** Shows something in place of the part of a view that failed. Returns false if there is nothing to show. */
  show?(error: unknown, host: object, at: object): boolean;
}

interface State {
  /** The target that is being evaluated and records what it reads. */
  active: Target | undefined;
  /** There once something has brought one. */
  graph: Graph | undefined;
  live: Live | undefined;
  /** Where requests are answered by what a server sent with an element; and, on the server, what awaits them. */
  requests?: Requests | undefined;
  errors?: Errors | undefined;
}

const key = Symbol.for('eltrix.state.1');

/** One for the page, so that two copies of this module follow each other's signals and properties. */
export const state: State = ((globalThis as unknown as Record<symbol, State>)[key] ??= {
  active: undefined,
  graph: undefined,
  live: undefined,
});

/** Notes that the active target reads a value. */
export function read(holder: Holder, key: number): void {
  // Throws for an object that is no holder, also when nothing is tracked.
  const { home } = holder;
  const active = state.active as Member | undefined;
  if (active === undefined) return;
  if (active.home === home) active.mask |= 1 << key;
  else state.graph!.read(holder, key);
}

/**
 * Runs a function without tracking what it reads.
 * @example const level = untracked(() => this.level);  // read without following
 */
export function untracked<T>(fn: () => T): T {
  const { active } = state;
  state.active = undefined;
  try {
    return fn();
  } finally {
    state.active = active;
  }
}
