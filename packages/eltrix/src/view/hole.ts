import {
  check,
  dirty,
  evaluate,
  type Home,
  type Link,
  listening,
  outside,
  type Source,
  state,
  stopped,
  unlink,
} from '../signals/graph.ts';
import { enqueue, type Reaction } from '../signals/queue.ts';
import { report } from '../signals/report.ts';

/** Whose view it is. */
export interface Owner extends Home {
  /** What listeners are called with as `this`, and what messages name. */
  readonly host: object;
  /** The document that nodes are made for. */
  readonly document: Document;
  /** Nodes were made for the view, before they are put in. */
  readonly placed: ((node: Node) => void) | undefined;
  /** An effect has ended; it need not be remembered any more. */
  forget(effect: Hole): void;
  /** Gives up the links that lead beyond it, while it is not shown. */
  letGo?(): void;
}

/** Where a hole stands in its template, for messages. */
export interface HolePlace {
  readonly strings: readonly string[];
  /** From 0. */
  readonly hole: number;
  /** From 1. */
  readonly line: number;
}

/** Development: the place of the hole that is being connected. */
let place: HolePlace | undefined;

export function setPlace(given: HolePlace | undefined): void {
  place = given;
}

export function currentPlace(): HolePlace | undefined {
  return place;
}

/**
 * A hole of a placed template. `set` gives it a value; a function makes it live. Subclasses show a value in `apply`.
 */
export abstract class Hole implements Reaction {
  flags = listening;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  readonly home: Owner;
  fn: (() => unknown) | undefined = undefined;
  /** Only in development. */
  declare place?: HolePlace | undefined;
  declare describe?: () => string;

  constructor(home: Owner) {
    this.home = home;
    if (__DEV__) this.place = place;
  }

  /** Shows a value that is no function. */
  abstract apply(value: unknown): void;

  set(value: unknown): void {
    const live = typeof value === 'function';
    if (this.fn !== undefined && !live) {
      unlink(this);
      // It may be queued for what it read.
      this.flags &= ~(dirty | check);
    }
    this.fn = live ? (value as () => unknown) : undefined;
    this.bring(value);
  }

  /** Takes the value of another piece of markup of the same template. */
  renew(values: readonly unknown[], at: number): void {
    const value = values[at];
    if (value !== this.fn || value === undefined) this.set(value);
  }

  /** Whether there is something to end when the view goes. */
  get lasts(): boolean {
    return this.fn !== undefined;
  }

  marked(): undefined {
    enqueue(this);
  }

  react(): void {
    this.bring(this.fn);
  }

  /** Whether it shows what is in a list or record, so that changes inside a `live` one concern it. */
  get looksInside(): boolean {
    return false;
  }

  /** Shows a value, or what a function returns. An error leaves the hole as it was; the rest goes on. */
  bring(value: unknown): void {
    try {
      this.apply(typeof value === 'function' ? this.read(value as () => unknown) : value);
      // What it called may have removed the element.
      if (this.flags & outside && !this.home.shown) this.home.letGo?.();
    } catch (error) {
      report(placed(error, this.home, this.place));
    }
  }

  read(fn: () => unknown): unknown {
    const { readLive } = state;
    if (readLive === undefined || !this.looksInside) return evaluate(this, fn);
    return evaluate(this, () => readLive(fn()));
  }

  dispose(): void {
    this.flags |= stopped;
    unlink(this);
    if (this.flags & outside) this.home.forget(this);
  }
}

if (__DEV__) {
  Hole.prototype.describe = function (this: Hole) {
    return whereIs(this.home, this.place);
  };
}

/** A value that belongs to a view and that its holes read: the item of a row. It lives and dies with its home. */
export class LocalSource<T> implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;

  /** Development: what messages call it. */
  declare describe?: () => string;

  constructor(
    readonly home: Home | undefined,
    public value: T,
  ) {}
}

if (__DEV__) {
  LocalSource.prototype.describe = () => 'the item of its row';
}

export function nameOf(host: object): string {
  return 'localName' in host ? `<${host.localName}>` : 'the markup';
}

export function whereIs(home: Owner, place: HolePlace | undefined): string {
  if (!place) return nameOf(home.host);
  const before = place.strings[place.hole]!.replace(/\s+/g, ' ').slice(-24);
  const after = place.strings[place.hole + 1]!.replace(/\s+/g, ' ').slice(0, 12);
  return `${nameOf(home.host)}, line ${place.line} of the markup, hole ${place.hole + 1} (${before}\${…}${after})`;
}

/** The error with the place of its hole; the original is its cause. */
export function placed(error: unknown, home: Owner, place: HolePlace | undefined): unknown {
  if (error instanceof Error && 'hole' in error) return error;
  const message = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
  const text = __DEV__
    ? `(hole-failed): ${whereIs(home, place)}: ${message}. The hole keeps what it showed; the rest goes on.`
    : `hole-failed: ${nameOf(home.host)}: ${message}`;
  return Object.assign(new Error(text, { cause: error }), {
    code: 'hole-failed',
    hole: place?.hole,
    line: place?.line,
  });
}
