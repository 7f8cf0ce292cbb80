/** Copies the nodes of a template and connects them. */
import { type Owner, setPlace } from './hole.ts';
import type { Markup } from './piece.ts';
import type { Kept } from './template.ts';

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
 *
 * @param kept takes what can be renewed and has to be ended; a view that stands as long as its element needs none.
 * @returns the only node, or a fragment.
 */
export function build(piece: Markup, owner: Owner, renewable: boolean, kept?: (Kept | undefined)[]): Node {
  const { path, sites, root, inDocument } = piece.template();
  const { document } = owner;
  const node = inDocument && root.ownerDocument === document ? root.cloneNode(true) : document.importNode(root, true);
  if (owner.placed !== undefined) owner.placed(node);
  // The way is walked to its end before anything is connected: connecting may add nodes.
  const steps = walk(node, path);
  for (let i = 0; i < sites.length; i++) {
    const { at, hole, bind, place } = sites[i]!;
    if (__DEV__) setPlace(place);
    const binding = bind(steps[at]!, piece.values, hole, owner, renewable);
    if (kept !== undefined && (renewable || binding !== undefined)) kept.push(binding);
  }
  return node;
}
