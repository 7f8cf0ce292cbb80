/** Copies the nodes of a template and creates their bindings. */
import { setPlace, setRenewable } from './expression.ts';
import type { Markup } from './piece.ts';
import { nextSent, takeNodes } from './taking-over.ts';
import type { Binding, Owner } from './template.ts';

/**
 * A copy for an owner. Custom elements are made in the document where they are defined: in another one, as that of a
 * picture-in-picture window, they would never be upgraded. They use the owner's scoped registry, if it has one (DOM §4.5,
 * importNode).
 */
function copyFor({ document: home, registry }: Owner, root: Node, inDocument: boolean): Node {
  if (!inDocument) return document.importNode(root, (registry ? { customElementRegistry: registry } : true) as boolean);
  return root.ownerDocument === home ? root.cloneNode(true) : home.importNode(root, true);
}

/**
 * Creates the nodes of a piece of markup and their bindings. Call it without an active target.
 *
 * @param made receives the bindings, one for each site.
 * @param copied called with the copy of the template, before it has bindings.
 * @returns the only node, or a fragment; undefined if nodes that a server sent were adopted.
 */
export function build(
  piece: Markup,
  owner: Owner,
  renewable: boolean,
  made: (Binding | undefined)[],
  copied?: (node: Node) => void,
): Node | undefined {
  const { walk, binders, values, root, inDocument, places } = piece.template();
  let node: Node | undefined;
  let nodes: readonly Node[];
  if (__RENDERED__ && nextSent()) nodes = takeNodes(root, walk);
  else {
    node = copyFor(owner, root, inDocument);
    owner.placed(node);
    copied?.(node);
    // All nodes are looked up before the first binding is created: a binding may insert nodes.
    nodes = walk(node);
  }
  try {
    for (let i = 0; i < binders.length; i++) {
      if (__DEV__) setPlace(places?.[i]);
      setRenewable(renewable);
      const binding = binders[i]!(nodes[i]!, owner, made);
      setRenewable(false);
      binding?.update(piece.values, values[i]!);
      made[i] = renewable || binding?.lasts !== false ? binding : undefined;
    }
  } catch (error) {
    for (const binding of made) binding?.dispose();
    throw error;
  }
  return node;
}
