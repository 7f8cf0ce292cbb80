import { check, dirty, listening, outside, stopped } from '../signals/flags.ts';
import { report } from '../signals/report.ts';
import { type Link, type Member, state } from '../signals/state.ts';
import type { Binding, ExpressionPlace, Owner } from './template.ts';
import { warnOfUnread } from './unread-signal.ts';
import { warnOnce } from './warn-once.ts';
import { placed, whereIs } from './whereabouts.ts';

/** Development: the place of the expression that is being created. */
let place: ExpressionPlace | undefined;

export function setPlace(given: ExpressionPlace | undefined): void {
  place = given;
}

export function currentPlace(): ExpressionPlace | undefined {
  return place;
}

let renewable = false;

/** Says whether the binding that is created now is part of markup that may be shown again with other values. */
export function setRenewable(given: boolean): void {
  renewable = given;
}

export function isRenewable(): boolean {
  return renewable;
}

/** The owner's values on which the bindings of a list depend. A change of any other value skips the whole list. */
export interface ListReadings {
  /** One bit for each key, those of nested lists included. */
  mask: number;
  readonly around: ListReadings | undefined;
}

let list: ListReadings | undefined;

/** Runs a function that creates bindings inside a list. */
export function inList<T>(inner: ListReadings | undefined, fn: () => T): T {
  const outer = list;
  list = inner;
  try {
    return fn();
  } finally {
    list = outer;
  }
}

export function currentList(): ListReadings | undefined {
  return list;
}

/** The outermost expression that is being brought up to date. What it makes is not in the page yet. */
let making: Expression | undefined;

export function currentlyMaking(): Expression | undefined {
  return making;
}

/** Shows a value at a node. @param name of the attribute or property, if there is one. */
export type Show = (node: never, value: unknown, name: string, expression: Expression) => void;

/** The initial value: different from every value that an expression can have. */
const nothing = Symbol();

/** One expression of a view: shows a value, or the result of a function (a live expression). */
export class Expression implements Member, Binding {
  flags = listening;
  mask = 0;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  fn: (() => unknown) | undefined = undefined;
  last: unknown = nothing;
  readonly list = list;
  /** Only in development. */
  declare place?: ExpressionPlace | undefined;
  declare describe?: () => string;

  constructor(
    readonly home: Owner,
    readonly node: Node,
    readonly show: Show,
    readonly name = '',
  ) {
    if (__DEV__) this.place = place;
  }

  /** Whether it has to be kept: it is live, or has something to dispose. */
  get lasts(): boolean {
    return this.fn !== undefined;
  }

  update(values: readonly unknown[], at: number): void {
    const value = values[at];
    if (value !== this.fn || value === undefined) this.set(value);
  }

  set(value: unknown): void {
    const fn = typeof value === 'function' ? (value as () => unknown) : undefined;
    if (fn === undefined && this.fn !== undefined) this.forget();
    this.fn = fn;
    if (__DEV__ && fn && fn.length > 0) warnOfParameters(this, fn);
    this.bring(value);
  }

  mark(stale: number, due: Member[]): void {
    if (this.mask & stale) this.flags |= dirty;
    if (this.flags & (dirty | check)) due.push(this);
  }

  react(): void {
    this.bring(this.fn);
  }

  /** Shows a value, or the result of a function. */
  bring(value: unknown): void {
    const outer = list;
    const isOutermost = making === undefined;
    // Bindings created by the function belong to the same list.
    list = this.list;
    making ??= this;
    try {
      this.apply(value === this.fn && value !== undefined ? this.read(value as () => unknown) : value);
    } catch (error) {
      this.failed(error);
    } finally {
      list = outer;
      if (isOutermost) making = undefined;
    }
    this.noteInLists();
  }

  /** Adds what it depends on to the lists around it. */
  noteInLists(): void {
    const { mask } = this;
    for (let { list } = this; list !== undefined && (list.mask & mask) !== mask; list = list.around) list.mask |= mask;
  }

  /** After an error the expression shows its previous value; the rest of the view keeps working. */
  failed(error: unknown): void {
    report(placed(error, this.home, this.place), this.home.host, this.node);
  }

  read(fn: () => unknown): unknown {
    this.mask = 0;
    return state.graph!.evaluate(this, fn);
  }

  /**
   * Shows a value that is not a function. A rejected value counts as shown, so that the same value is not reported
   * again.
   */
  apply(value: unknown): void {
    if (Object.is(value, this.last)) return;
    this.last = value;
    this.show(this.node as never, value, this.name, this);
    if (__DEV__) warnOfUnread(this, value);
  }

  /** Drops its dependencies. It may still be in the queue. */
  forget(): void {
    this.mask = 0;
    this.flags &= ~(dirty | check | outside);
    if (this.sources !== undefined) state.graph!.unlink(this);
    // Else it would be brought up to date when its element returns.
    this.home.outside?.delete(this);
  }

  dispose(): void {
    this.flags |= stopped;
    this.forget();
  }
}

/** Development: warns of a function with parameters, which is usually meant as a value. */
function warnOfParameters({ home, place, name }: Expression, fn: { readonly name: string }): void {
  const called = fn.name || 'fn';
  warnOnce(
    `Warning (live-parameters): ${whereIs(home, place)}: a function with parameters was given. A function in an expression is live: it is called without arguments, and what it returns shows. ` +
      `${name ? `To pass it as a value write { ${name}: fixed(${called}) }.` : `Write \${() => ${called}(…)}.`}`,
  );
}

/** An expression that shows the fields of a list or record, and so depends on them. */
export class DeepExpression extends Expression {
  override read(fn: () => unknown): unknown {
    const { live } = state;
    return super.read(live === undefined ? fn : () => live.read(fn()));
  }

  override apply(value: unknown): void {
    if (typeof value === 'object') this.last = nothing;
    super.apply(value);
  }
}

if (__DEV__) {
  Expression.prototype.describe = function (this: Expression) {
    return whereIs(this.home, this.place);
  };
}
