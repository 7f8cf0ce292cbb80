/** Values that insert nodes at a content expression, and the expression that shows one. */
import type { Member } from '../signals/state.ts';
import { DeepExpression, isRenewable, type Show } from './expression.ts';
import type { Binder, ExpressionPlace, Owner } from './template.ts';

/** Marks values that insert nodes at a content expression (`each`), across copies of this module. */
export const place: unique symbol = Symbol.for('eltrix.place.1') as never;

/** The method with which such a value gives a server something to render. */
export const onServer: unique symbol = Symbol.for('eltrix.server.1') as never;

/** The method with which it gives a server something else for a part that failed. */
export const onServerError: unique symbol = Symbol.for('eltrix.server-error.1') as never;

/** Marks functions that `liveValue` has returned, across copies of this module. */
const mark: unique symbol = Symbol.for('eltrix.live-value.1') as never;

/** A function of the library that an expression shows live, also as the result of another function: a list in a condition. */
export const liveValue = <F extends () => unknown>(fn: F): F => Object.assign(fn, { [mark]: true });

export const isLiveValue = (value: unknown): value is () => unknown => typeof value === 'function' && mark in value;

/** A value that inserts nodes at a content expression. */
export interface Placeable {
  /** What a server renders, with separate marks around it. */
  [onServer]?(): unknown;
  /** What a server renders instead if an error occurs in it; without it the error is that of the whole view. */
  [onServerError]?(error: unknown): unknown;
  /**
   * Inserts nodes before the anchor.
   *
   * @param present the result of the previous value, or undefined.
   * @param renewable whether its expression is part of markup that may be shown again with other values.
   */
  [place](
    anchor: ChildNode,
    owner: Owner,
    present: Placed | undefined,
    where: ExpressionPlace | undefined,
    renewable?: boolean,
  ): Placed;
}

/** The nodes of a content expression, if it shows more than text. */
export interface Placed {
  /** The first of them; undefined if there is none. */
  readonly first: Node | undefined;
  /** As in `Binding`, for the bindings inside. */
  mark?(stale: number, due: Member[]): void;
  /** Disposes the bindings; the nodes stay. */
  dispose(): void;
  /** Disposes the bindings and removes the nodes. */
  remove(): void;
}

/** Never called, since `apply` does not call it. */
const show: Show = () => {};

/** An expression that shows nothing but placeable values. Its anchor is a text node after the shown nodes. */
export class PlacedExpression extends DeepExpression {
  content: Placed | undefined = undefined;
  /** Whether it is part of markup that may be shown again with other values. */
  declare renewable?: boolean;

  constructor(
    owner: Owner,
    readonly anchor: ChildNode,
  ) {
    super(owner, anchor, show);
    if (isRenewable()) this.renewable = true;
  }

  /** The first node that it shows, or its anchor. */
  get first(): Node {
    return this.content?.first ?? this.anchor;
  }

  override get lasts(): boolean {
    return this.fn !== undefined || this.content !== undefined;
  }

  override apply(value: unknown): void {
    const { content } = this;
    const placed = (value as Placeable)[place](this.anchor, this.home, content, this.place, this.renewable);
    if (placed !== content) this.clear(placed);
  }

  /** Removes the present nodes; `content` replaces them. */
  clear(content?: Placed): void {
    this.content?.remove();
    this.content = content;
  }

  override mark(stale: number, due: Member[]): void {
    super.mark(stale, due);
    this.content?.mark?.(stale, due);
  }

  override dispose(): void {
    super.dispose();
    this.content?.dispose();
  }
}

/** For an expression of which the compiler knows that it is a list. */
export const bindPlaced: Binder = (node, owner) => new PlacedExpression(owner, node as ChildNode);
