import { untracked } from '../signals/graph.ts';
import type { Owner } from './hole.ts';
import type { Markup } from './markup.ts';
import { templateOf } from './prepare.ts';
import type { Kept, Making, Template } from './template.ts';

/** A placed piece of markup. Its nodes stand from `first` to `last`, whatever comes between. */
export class View {
  constructor(
    readonly template: Template,
    readonly first: ChildNode,
    readonly last: ChildNode,
    /** One for each site, where something is kept. */
    readonly kept: readonly (Kept | undefined)[],
  ) {}

  /** Takes the values of another piece of the same template. */
  renew(values: readonly unknown[]): void {
    for (let i = 0; i < this.kept.length; i++) this.kept[i]?.renew?.(values, this.template.sites[i]!.hole);
  }

  /** Ends the bindings; the nodes stay where they are. */
  dispose(): void {
    for (const kept of this.kept) kept?.dispose();
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

/**
 * Makes the nodes of a piece of markup and connects them.
 * @returns the view and the node to insert: its only element, or a fragment.
 */
export function makeView(piece: Markup, owner: Owner, renewable: boolean): { view: View; node: Node } {
  const template = templateOf(piece);
  const node = owner.document.importNode(template.root, true);
  const { path, sites } = template;
  const steps: Node[] = [node];
  for (let i = 0; i < path.length; i += 3) {
    let step = steps[path[i]!]!;
    const down = path[i + 1];
    if (down === 1) step = step.firstChild!;
    else if (down === 2) step = (step as HTMLTemplateElement).content.firstChild!;
    for (let k = path[i + 2]!; k > 0; k--) step = step.nextSibling!;
    steps.push(step);
  }
  const single = node.nodeType === 1;
  const first = (single ? node : node.firstChild) as ChildNode;
  const last = (single ? node : node.lastChild) as ChildNode;
  owner.placed(node);
  const making: Making = { owner, renewable, place: undefined };
  const kept: (Kept | undefined)[] = [];
  untracked(() => {
    for (const site of sites) {
      if (__DEV__) making.place = site.place;
      kept.push(site.bind(steps[site.at]!, piece.values, site.hole, making));
    }
  });
  return { view: new View(template, first, last, kept), node };
}
