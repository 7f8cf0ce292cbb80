import type { Member } from '../signals/state.ts';
import { build } from './build.ts';
import { takeOut } from './departing.ts';
import type { Markup } from './piece.ts';
import { nodesOf, type Span } from './span.ts';
import { nextSent } from './taking-over.ts';
import { type Binding, markAll, type Owner, type Template } from './template.ts';

/** Placed nodes with their bindings. */
export abstract class Standing implements Span {
  declare first: ChildNode;
  declare last: ChildNode;
  /** The bindings of these nodes. */
  declare kept: readonly (Binding | undefined)[];
  /** Their template, if they are renewable: then later pieces of the same template update them. */
  declare template?: Template;

  /** Called with the copy of its template, before it has bindings. */
  copied?(node: Node): void;

  /** Shows the values of another piece of the same template. */
  update(values: readonly unknown[]): void {
    for (let i = 0; i < this.kept.length; i++) this.kept[i]?.update(values, this.template!.values[i]!);
  }

  mark(stale: number, due: Member[]): void {
    markAll(this.kept, stale, due);
  }

  /** Disposes the bindings; the nodes stay. */
  dispose(): void {
    const { kept } = this;
    for (let i = 0; i < kept.length; i++) kept[i]?.dispose();
  }

  /** Disposes the bindings and removes the nodes. */
  remove(): void {
    this.dispose();
    if (this.first === this.last) takeOut(this.first);
    else for (const node of nodesOf(this)) takeOut(node);
  }
}

/** A placed piece of markup. */
export class View extends Standing {}

/**
 * Creates and binds the nodes of a piece of markup. Call it without an active target.
 *
 * @returns the node to insert, or a fragment; undefined if the nodes are in place.
 */
export function fill(standing: Standing, piece: Markup, owner: Owner, renewable: boolean): Node | undefined {
  const template = piece.template();
  const { length } = template.binders;
  if (renewable) standing.template = template;
  const kept = length > 0 ? new Array<Binding | undefined>(length) : none;
  const taken = __RENDERED__ && nextSent();
  const node = build(piece, owner, renewable, kept, standing.copied && (copy => standing.copied!(copy)))!;
  if (taken) {
    const after = nextSent()!;
    standing.first = taken as ChildNode;
    standing.last = after.previousSibling as ChildNode;
    // Markup without nodes still needs a place.
    if (taken === after) after.parentNode!.insertBefore((standing.first = standing.last = new Text()), after);
    standing.kept = kept;
    return undefined;
  }
  const single = node.nodeType === 1;
  standing.first = (single ? node : node.firstChild) as ChildNode;
  standing.last = (single ? node : node.lastChild) as ChildNode;
  standing.kept = kept;
  return node;
}

const none: never[] = [];

/** An empty text node takes the place of markup that threw. */
export function leaveEmpty(standing: Standing, { document }: Owner): Node {
  const text = document.createTextNode('');
  standing.first = standing.last = text;
  standing.kept = none;
  return text;
}
