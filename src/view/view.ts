import { type Owner, setPlace } from './hole.ts';
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

/** The nodes that a template's path leads to, from a copy of its root. */
export function walk(root: Node, path: readonly number[]): Node[] {
  const steps = new Array<Node>(path.length / 3 + 1);
  steps[0] = root;
  for (let i = 0, step = 1; i < path.length; step++) {
    let at = steps[path[i++]!]!;
    const down = path[i++];
    if (down === 1) at = at.firstChild!;
    else if (down === 2) at = (at as HTMLTemplateElement).content.firstChild!;
    for (let k = path[i++]!; k > 0; k--) at = at.nextSibling!;
    steps[step] = at;
  }
  return steps;
}

/**
 * Makes the nodes of a piece of markup and connects them. Call it where nothing is tracked.
 * @returns the view; `fragment` is what to insert if it is more than one node.
 */
export function makeView(piece: Markup, owner: Owner, renewable: boolean): View {
  const template = piece.template();
  const { path, sites, root, inDocument } = template;
  const { document } = owner;
  const node = inDocument && root.ownerDocument === document ? root.cloneNode(true) : document.importNode(root, true);
  const { values } = piece;
  if (owner.placed !== undefined) owner.placed(node);
  const single = node.nodeType === 1;
  const first = (single ? node : node.firstChild) as ChildNode;
  const last = (single ? node : node.lastChild) as ChildNode;
  // The way is walked to its end before anything is connected: connecting may add nodes.
  const steps = walk(node, path);
  const kept: (Kept | undefined)[] = [];
  for (let i = 0; i < sites.length; i++) {
    const { at, hole, bind, place } = sites[i]!;
    if (__DEV__) setPlace(place);
    const binding = bind(steps[at]!, values, hole, owner, renewable);
    if (renewable || binding !== undefined) kept.push(binding);
  }
  // A list that has grown has room to spare; there may be ten thousand of these.
  return new View(template, first, last, kept.length > 0 ? kept.slice() : none, single ? first : node);
}

const emptiness: Template = { root: null as never, inDocument: true, path: none, sites: none };

/** Stands where markup could not be made: an empty text. */
export function emptyView({ document }: Owner): View {
  const text = document.createTextNode('');
  return new View(emptiness, text, text, none, text);
}
