import { check, dirty, listening, stopped } from '../signals/flags.ts';
import { report } from '../signals/report.ts';
import { evaluate, type Link, type Member, state } from '../signals/state.ts';
import type { Binding, HolePlace, Owner } from './template.ts';

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
export abstract class Hole implements Member, Binding {
  flags = listening;
  mask = 0;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  fn: (() => unknown) | undefined = undefined;
  /** Only in development. */
  declare place?: HolePlace | undefined;
  declare describe?: () => string;

  constructor(readonly home: Owner) {
    if (__DEV__) this.place = place;
  }

  /** Shows a value that is no function. */
  abstract apply(value: unknown): void;

  set(value: unknown): void {
    const fn = typeof value === 'function' ? (value as () => unknown) : undefined;
    if (fn === undefined && this.fn !== undefined) this.forget();
    this.fn = fn;
    this.bring(value);
  }

  update(values: readonly unknown[], at: number): void {
    const value = values[at];
    if (value !== this.fn || value === undefined) this.set(value);
  }

  mark(stale: number, due: Member[]): void {
    if (this.mask & stale) this.flags |= dirty;
    if (this.flags & (dirty | check)) due.push(this);
  }

  react(): void {
    this.bring(this.fn);
  }

  /** Shows a value, or what a function returns. An error leaves the hole as it was; the rest goes on. */
  bring(value: unknown): void {
    try {
      this.apply(value === this.fn && value !== undefined ? this.read(value as () => unknown) : value);
    } catch (error) {
      report(placed(error, this.home, this.place));
    }
  }

  read(fn: () => unknown): unknown {
    this.mask = 0;
    return evaluate(this, fn);
  }

  /** What it has read does not concern it any more. It may be queued for that. */
  forget(): void {
    this.mask = 0;
    this.flags &= ~(dirty | check);
    if (this.sources !== undefined) state.graph!.unlink(this);
  }

  dispose(): void {
    this.flags |= stopped;
    this.forget();
    this.home.outside?.delete(this);
  }
}

/** One that shows what is in a list or record, so that changes inside a `live` one concern it. */
export abstract class DeepHole extends Hole {
  override read(fn: () => unknown): unknown {
    const readLive = state.graph?.readLive;
    return super.read(readLive === undefined ? fn : () => readLive(fn()));
  }
}

if (__DEV__) {
  Hole.prototype.describe = function (this: Hole) {
    return whereIs(this.home, this.place);
  };
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
  if (!__DEV__)
    return Object.assign(new Error(`hole-failed: ${nameOf(home.host)}: ${message}`, { cause: error }), {
      code: 'hole-failed',
      hole: 0,
    });
  const text = `(hole-failed): ${whereIs(home, place)}: ${message}. The hole keeps what it showed; the rest goes on.`;
  return Object.assign(new Error(text, { cause: error }), {
    code: 'hole-failed',
    hole: place?.hole,
    line: place?.line,
  });
}

/** Gives a new hole its first value; it is kept if the value can change. */
export function keepHole(hole: Hole & { content?: unknown }, value: unknown, renewable: boolean): Binding | undefined {
  hole.set(value);
  return renewable || hole.fn || hole.content ? hole : undefined;
}
