import { build } from './build.ts';
import type { Owner } from './hole.ts';
import type { Markup } from './piece.ts';
import type { Kept, Template } from './template.ts';

/** A placed piece of markup. Its nodes stand from `first` to `last`, whatever comes between. */
export class View {
  constructor(
    readonly template: Template,
    readonly first: ChildNode,
    readonly last: ChildNode,
    /** Where the view can be renewed, one for each site. */
    readonly kept: readonly (Kept | undefined)[],
    /** What to insert: the only node, or a fragment. */
    readonly node: Node,
  ) {}

  /** Takes the values of another piece of the same template. */
  renew(values: readonly unknown[]): void {
    for (let i = 0; i < this.kept.length; i++) this.kept[i]?.renew?.(values, this.template.sites[i]!.hole);
  }

  /** Ends the bindings; the nodes stay where they are. */
  dispose(): void {
    const { kept } = this;
    for (let i = 0; i < kept.length; i++) kept[i]?.dispose();
  }

  /** Ends the bindings and takes the nodes out. */
  remove(): void {
    this.dispose();
    removeNodes(this.first, this.last);
  }
}

/** Takes siblings out of their parent, both ends included. */
export function removeNodes(first: ChildNode, last: ChildNode): void {
  let node: ChildNode | null = first;
  while (node !== null) {
    const next: ChildNode | null = node === last ? null : node.nextSibling;
    node.remove();
    node = next;
  }
}

const none: readonly never[] = [];

/** Makes the nodes of a piece of markup and connects them. Call it where nothing is tracked. */
export function makeView(piece: Markup, owner: Owner, renewable: boolean): View {
  const kept: (Kept | undefined)[] = [];
  const node = build(piece, owner, renewable, kept);
  const single = node.nodeType === 1;
  const first = (single ? node : node.firstChild) as ChildNode;
  const last = (single ? node : node.lastChild) as ChildNode;
  // A list that has grown has room to spare; there may be ten thousand of these.
  return new View(piece.template(), first, last, kept.length > 0 ? kept.slice() : none, node);
}

const emptiness: Template = { root: null as never, inDocument: true, path: none, sites: none };

/** Stands where markup could not be made: an empty text. */
export function emptyView({ document }: Owner): View {
  const text = document.createTextNode('');
  return new View(emptiness, text, text, none, text);
}
