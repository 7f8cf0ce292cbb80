/** Copies the nodes of a template and connects them. */
import { setPlace } from './hole.ts';
import type { Markup } from './piece.ts';
import type { Binding, Owner } from './template.ts';

/**
 * Makes the nodes of a piece of markup and connects them. Call it where nothing is tracked.
 *
 * @param made takes the bindings, one for each site.
 * @returns the only node, or a fragment.
 */
export function build(piece: Markup, owner: Owner, renewable: boolean, made: (Binding | undefined)[]): Node {
  const { walk, binders, values, root, inDocument, places } = piece.template();
  const { document } = owner;
  const node = inDocument && root.ownerDocument === document ? root.cloneNode(true) : document.importNode(root, true);
  owner.placed(node);
  // The way is walked to its end before anything is connected: connecting may add nodes.
  const nodes = walk(node);
  try {
    for (let i = 0; i < binders.length; i++) {
      if (__DEV__) setPlace(places?.[i]);
      const binding = binders[i]!(nodes[i]!, owner);
      binding?.update(piece.values, values[i]!);
      made[i] = renewable || binding?.lasts !== false ? binding : undefined;
    }
  } catch (error) {
    for (const binding of made) binding?.dispose();
    throw error;
  }
  return node;
}
