import type { Member } from '../signals/state.ts';
import { build } from './build.ts';
import { takeOut } from './departing.ts';
import type { Markup } from './piece.ts';
import { nextSent } from './taking-over.ts';
import { type Binding, markAll, type Owner, type Template } from './template.ts';

/** Connected nodes. They stand from `first` to `last`, with anything between. */
export abstract class Standing {
  declare first: ChildNode;
  declare last: ChildNode;
  /** What has to be ended with them, and what can be renewed. */
  declare kept: readonly (Binding | undefined)[];

  mark(stale: number, due: Member[]): void {
    markAll(this.kept, stale, due);
  }

  /** Ends the bindings; the nodes stay where they are. */
  dispose(): void {
    const { kept } = this;
    for (let i = 0; i < kept.length; i++) kept[i]?.dispose();
  }

  /** Ends the bindings and takes the nodes out. */
  remove(): void {
    this.dispose();
    if (this.first === this.last) takeOut(this.first);
    else for (const node of nodesOf(this)) takeOut(node);
  }
}

/** A placed piece of markup that another piece of the same template may come to update. */
export class View extends Standing {
  constructor(readonly template: Template) {
    super();
  }

  /** Takes the values of another piece of the same template. */
  update(values: readonly unknown[]): void {
    for (let i = 0; i < this.kept.length; i++) this.kept[i]?.update(values, this.template.values[i]!);
  }
}

/** The nodes from the first to the last; only these two if other scripts have separated them. */
export function nodesOf({ first, last }: Standing): ChildNode[] {
  const nodes: ChildNode[] = [];
  for (let node: ChildNode | null = first; node !== null; node = node.nextSibling) {
    nodes.push(node);
    if (node === last) return nodes;
  }
  return [first, last];
}

/**
 * Makes the nodes of a piece of markup, connects them and notes them. Call it where nothing is tracked.
 *
 * @returns what to insert: the only node, or a fragment; undefined if its nodes stand where they belong.
 */
export function fill(standing: Standing, piece: Markup, owner: Owner, renewable: boolean): Node | undefined {
  const { length } = piece.template().binders;
  const kept = length > 0 ? new Array<Binding | undefined>(length) : none;
  const taken = __RENDERED__ && nextSent();
  const node = build(piece, owner, renewable, kept)!;
  if (taken) {
    const after = nextSent()!;
    standing.first = taken as ChildNode;
    standing.last = after.previousSibling as ChildNode;
    // Markup that shows nothing needs a place all the same.
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

/** Where markup could not be made stands an empty text. */
export function leaveEmpty(standing: Standing, { document }: Owner): Node {
  const text = document.createTextNode('');
  standing.first = standing.last = text;
  standing.kept = none;
  return text;
}
