/** What a view is made of, and whose it is. */
import { type Home, type Member, state } from '../signals/state.ts';

/** Whose view it is. */
export interface Owner extends Home {
  /** What listeners are called with as `this`, and what messages name. */
  readonly host: object;
  /** Where its view stands, once there is such a place. */
  readonly root?: Node | undefined;
  /** Set while it is connected again: what has changed meanwhile was not queued, and lists look at each row. */
  readonly looksAtAll?: boolean;
  /** The scoped registry of its root, if it was given one. */
  readonly registry?: CustomElementRegistry | undefined;
  /** The document that nodes are made for. */
  readonly document: Document;
  /** Nodes were made for the view, before they are put in. */
  placed(node: Node): void;
}

/** Where an expression stands in its template, for messages. */
export interface ExpressionPlace {
  readonly strings: readonly string[];
  /** From 0. */
  readonly expression: number;
  /** From 1. */
  readonly line: number;
}

/** Makes the binding of one node of a fresh copy; undefined if all is done. */
export type Binder = (node: Node, owner: Owner) => Binding | undefined;

/**
 * What a view keeps of a place with an expression. While its element is not in a document nothing has to be done for it:
 * the element does not run it, and gives up its links that lead elsewhere.
 */
export interface Binding {
  /** Shows the values of a piece of markup, from `values[at]` on: the first, and those of others of the same template. */
  update(values: readonly unknown[], at: number): void;
  /** False if it need not be kept, unless other values may come. */
  readonly lasts?: boolean;
  /**
   * The element looks what has to run: marks what has read a value of `stale`, a bit each, and adds to `due` what is
   * marked, this before what is inside it.
   */
  mark?(stale: number, due: Member[]): void;
  /** Its part of the view goes. */
  dispose(): void;
}

/** Runs members that are marked, if nothing before them has done so. */
export function rerunAll(due: readonly Member[]): void {
  for (const member of due) state.graph!.rerun(member);
}

/** Calls each binding's `mark`. */
export function markAll(bindings: readonly (Binding | undefined)[], stale: number, due: Member[]): void {
  for (let i = 0; i < bindings.length; i++) bindings[i]?.mark?.(stale, due);
}

/** What is known of a template once, for all its placements. */
export interface Template {
  /** What is copied: the only element, or a fragment. */
  readonly root: Node;
  /** Whether `root` belongs to the page's document, so that a plain copy will do there. */
  readonly inDocument: boolean;
  /** The nodes of a copy that have bindings, one for each. */
  readonly walk: (root: Node) => readonly Node[];
  /** How each is connected. */
  readonly binders: readonly Binder[];
  /** The index of its first value, of each. */
  readonly values: readonly number[];
  /** In development, where each stands. */
  readonly places?: readonly ExpressionPlace[] | undefined;
}
