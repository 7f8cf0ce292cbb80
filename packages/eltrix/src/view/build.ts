/** Copies the nodes of a template and connects them. */
import { type Owner, setPlace } from './hole.ts';
import type { Markup } from './piece.ts';
import type { Kept } from './template.ts';

/**
 * Makes the nodes of a piece of markup and connects them. Call it where nothing is tracked.
 *
 * @param kept takes what can be renewed and has to be ended, one for each site; a view that stands as long as its
 * element needs none.
 * @returns the only node, or a fragment.
 */
export function build(piece: Markup, owner: Owner, renewable: boolean, kept?: (Kept | undefined)[]): Node {
  const { walk, sites, root, inDocument } = piece.template();
  const { document } = owner;
  const node = inDocument && root.ownerDocument === document ? root.cloneNode(true) : document.importNode(root, true);
  if (owner.placed !== undefined) owner.placed(node);
  // The way is walked to its end before anything is connected: connecting may add nodes.
  const nodes = walk(node);
  const made = kept ?? [];
  try {
    for (let i = 0; i < sites.length; i++) {
      const { hole, bind, place } = sites[i]!;
      if (__DEV__) setPlace(place);
      made[i] = bind(nodes[i]!, piece.values, hole, owner, renewable);
    }
  } catch (error) {
    for (const binding of made) binding?.dispose();
    throw error;
  }
  return node;
}
