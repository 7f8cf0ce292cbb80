/**
 * The active evaluation and its dependencies. An element that depends on nothing but its own properties needs no more
 * than this file: each binding of its view keeps a bit mask of the properties that it has read. Signals, computeds and
 * effects bring the dependency graph (`graph.ts`) for everything else.
 */

/** One dependency: `target` has read `source` at version `seen`. */
export interface Link {
  readonly source: Source;
  readonly target: Target;
  seen: number;
  nextSource: Link | undefined;
  nextTarget: Link | undefined;
  prevTarget: Link | undefined;
  /** Whether it is in the list of its source. */
  listed: boolean;
}

export interface Source {
  version: number;
  /** The subscribers in the order in which they came: first and last link. */
  targets: Link | undefined;
  lastTarget: Link | undefined;
  /** The evaluation that last read it, so that reading twice makes one link. */
  run: number;
  /** Brings a computed up to date; other sources have no such method. */
  refresh?(): void;
  /** Called when the first subscriber has come. */
  watched?(): void;
  /** Called when the last subscriber has gone. */
  unwatched?(): void;
  /** Development: the name that messages print. */
  describe?(): string;
}

export interface Target {
  flags: number;
  sources: Link | undefined;
  tail: Link | undefined;
  home: Home | undefined;
  /**
   * Called when the target is marked for the first time. A computed returns its subscribers, which are marked next. A
   * target without this method goes into the queue of views.
   */
  marked?(): Link | undefined;
}

/** A target with side effects: an effect, a binding of a view, or an element that updates its view. */
export interface Reaction extends Target {
  /** Called first for an effect inside another effect: the outer one runs before, and may stop it. */
  before?(): void;
  /** Runs it again; called when a dependency has changed. */
  react(): void;
  /** The name that messages print. */
  describe?(): string;
}

/** A target that belongs to an owner and keeps a mask of the owner's values that it has read. */
export interface Member extends Reaction {
  readonly home: Home;
  /** One bit for each of the owner's values that the last run has read, by `Holder` key. */
  mask: number;
}

/**
 * The owner of members: an element. While it is disconnected, its members have no links to sources outside, so that no
 * such source keeps the element alive.
 */
export interface Home {
  /** Whether members run. Otherwise they stay marked until the owner is connected. */
  readonly shown: boolean;
  /** Bits of values that have changed since members were last updated. */
  readonly stale: number;
  /** Members with dependencies outside the owner. */
  outside?: Set<Target> | undefined;
  /** Values have changed, by the bits of their keys. */
  changed(bits: number): void;
  /** Runs the members that depend on the changed values. */
  look(): unknown;
  /** For dependencies on other elements on a page without a graph. */
  weak?: WeakRef<Home> | undefined;
}

/** A source outside an element. */
export interface Followed {
  /** Elements that depend on it, on a page without a graph. */
  followers?: Set<WeakRef<Home>> | undefined;
}

/** An object with values that members read, each with a key from 0 to 31: an element's properties, a row's item. */
export interface Holder extends Followed {
  readonly home: Home;
  /** The graph's sources for its values, for targets that are not its members. */
  held?: (Source | undefined)[] | undefined;
  /** Development: the name of a value in messages. */
  nameOf?(key: number): string;
}

/** Keys that are not properties. Properties have 0 to 27; from the 29th property on they share keys. */
export const slotsKey = 28;
export const foreignKey = 29;
export const itemKey = 30;
export const positionKey = 31;
export const keyOf = (index: number) => index % slotsKey;

/**
 * Dependency tracking beyond an element. `least.ts` treats everything outside as one dependency; `queue.ts` tracks
 * each source.
 */
export interface Graph {
  readonly isWhole: boolean;
  /** Runs a function and records its dependencies as those of the target. */
  evaluate<T>(target: Target, fn: () => T): T;
  /** Runs a reaction if one of its dependencies has changed. While its owner is disconnected it stays marked. */
  rerun(reaction: Reaction): void;
  /** Puts a reaction into the queue. */
  enqueue(reaction: Reaction): void;
  /** Runs a reaction at the end of the current change, or of the batch around it. */
  prompt(reaction: Reaction): void;
  /** Adds a dependency on a holder's value. */
  read(holder: Holder, key: number): void;
  /** The value has changed. */
  wrote(holder: Holder, key: number): void;
  track(source: Source & Followed): void;
  changed(source: Source & Followed): void;
  /** Combines several changes: reactions that must not lag behind run once, at the end. */
  together<T>(fn: () => T): T;
  /** Removes a target's dependencies: all, or those after the link `after`. */
  unlink(target: Target, after?: Link): void;
  /** An owner was disconnected. */
  leave(home: Home): void;
  /** @throws Error inside a computed: a computed must not change other values. */
  refuseInComputed(): void;
  /** Whether a dependency of a target has changed; defined once there is a computed. */
  outdated?: (target: Target) => boolean;
}

/** Functions for `live` lists and records; defined once there is one. */
interface Live {
  /** Depends on every field, and returns a copy; any other value unchanged. */
  read(value: unknown): unknown;
  /** Reads the items of a list; undefined for anything else. */
  items(value: unknown): unknown[] | undefined;
  /** The object behind a proxy. */
  original<T>(value: T): T;
}

/** The answer to a request: its HTTP status, and its content as read. */
export interface RequestAnswer {
  readonly status: number;
  readonly value: unknown;
}

export interface Requests {
  /** The answer to a request if it is already there. */
  find(address: string): RequestAnswer | undefined;
  /** A request was sent; the answer is undefined if it was aborted, and an error if it failed. */
  sent?(address: string, answered: Promise<RequestAnswer | undefined>): void;
}

interface State {
  /** The target that is being evaluated, and gets the dependencies. */
  active: Target | undefined;
  /** Defined once a module has brought a graph. */
  graph: Graph | undefined;
  live: Live | undefined;
  /** In the browser: answers that a server has sent with an element. On the server: the requests to await. */
  requests?: Requests | undefined;
  /**
   * Handles a reported error: calls handlers, and shows the fallback of the region around a node. Defined once one of
   * them is used.
   * @returns whether it is handled, and need not be reported.
   */
  handle?: ((error: unknown, host: object | undefined, at?: object) => boolean) | undefined;
  /** Writes an error on a server, where an uncaught one would end the process. */
  tell?: ((error: unknown) => void) | undefined;
}

const key = Symbol.for('eltrix.state.1');

/**
 * One for the page, so that signals and properties of two copies of this module work together. It does not begin empty:
 * creating effects took several times as long then in V8 (`create` of bench/signals.ts).
 */
export const state: State = ((globalThis as unknown as Record<symbol, State>)[key] ??= { active: undefined } as State);

/** Notes that the active target reads a holder's value. */
export function read(holder: Holder, key: number): void {
  // Throws for an object that is not a holder, also when there is no active target.
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
