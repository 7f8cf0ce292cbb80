/** Templates, their bindings, and the owner of a view. */
import { type Home, type Member, state } from '../signals/state.ts';
import { takesContent } from './takes-content.ts';

/** The owner of a view. */
export interface Owner extends Home {
  /** `this` of listeners, and the element that messages name. */
  readonly host: object;
  /** The root of its view, once there is one. */
  readonly root?: Node | undefined;
  /** True while the element is reconnected: changes meanwhile were not queued, so lists update every row. */
  readonly looksAtAll?: boolean;
  /** The scoped registry of its root, if there is one. */
  readonly registry?: CustomElementRegistry | undefined;
  /** The document for new nodes. */
  readonly document: Document;
  /** Called with new nodes before they are inserted. */
  placed(node: Node): void;
}

/** The position of an expression in its template, for messages. */
export interface ExpressionPlace {
  readonly strings: readonly string[];
  /** From 0. */
  readonly expression: number;
  /** From 1. */
  readonly line: number;
}

/** Creates the binding of one node of a copy; undefined if nothing has to be kept. */
export interface Binder {
  /** @param siblings receives the bindings of the same copy. */
  (node: Node, owner: Owner, siblings?: readonly (Binding | undefined)[]): Binding | undefined;
  /** The binder for a node of a template whose element keeps what the view puts into it. */
  readonly among?: (model: Node) => Binder;
}

/**
 * The binding of one expression. While its element is disconnected, the element does not run it and removes its links
 * to sources outside.
 */
export interface Binding {
  /**
   * Shows the values of a piece of markup, from `values[at]` on: the first ones, and those of later pieces of the same
   * template.
   */
  update(values: readonly unknown[], at: number): void;
  /** False if it has to be kept only for later pieces. */
  readonly lasts?: boolean;
  /**
   * Marks members that depend on a value of `stale` (one bit each), and adds all marked members to `due`: outer ones
   * before inner ones.
   */
  mark?(stale: number, due: Member[]): void;
  /** Its part of the view is removed. */
  dispose(): void;
}

/** Runs members that are still marked. */
export function rerunAll(due: readonly Member[]): void {
  for (const member of due) state.graph!.rerun(member);
}

/** Calls each binding's `mark`. */
export function markAll(bindings: readonly (Binding | undefined)[], stale: number, due: Member[]): void {
  for (let i = 0; i < bindings.length; i++) bindings[i]?.mark?.(stale, due);
}

/** A template, prepared once for all its placements. */
export interface Template {
  /** The node to copy: the only element, or a fragment. */
  readonly root: Node;
  /** Whether `root` belongs to the page's document, so that `cloneNode` is enough. */
  readonly inDocument: boolean;
  /** Finds the nodes of a copy that have bindings, one for each. */
  readonly walk: (root: Node) => readonly Node[];
  /** Creates the binding of each. */
  readonly binders: readonly Binder[];
  /** For each, the index of its first value. */
  readonly values: readonly number[];
  /** Development: the position of each. */
  readonly places?: readonly ExpressionPlace[] | undefined;
}

/** The binders of a template, for its nodes with bindings. */
export const bindersAt = (nodes: readonly Node[], binders: readonly Binder[]): readonly Binder[] =>
  binders.map((binder, i) => {
    const parent = nodes[i]!.parentNode as Element | null;
    const isKept = parent?.nodeType === 1 && !takesContent(parent.localName, parent.hasAttribute('is'));
    return (isKept && binder.among?.(nodes[i]!)) || binder;
  });
