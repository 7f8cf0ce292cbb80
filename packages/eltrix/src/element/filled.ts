/** Whether nodes are content: elements, and text other than white space. A slot among them counts for what it passes on. */

type Through = (host: Element) => void;

/**
 * @param nodes the content of an element, or the fallback of a slot.
 * @param name of the slot for which they have to be meant; undefined for any.
 * @param root of these nodes: its host has the content of slots among them.
 * @param through called with each such host.
 */
export function areContent(nodes: Iterable<Node>, name: string | undefined, root: Node, through: Through): boolean {
  for (const node of nodes) {
    // Children are assigned by their `slot` attribute, text to the default slot (DOM §4.2.2.3).
    const isContent =
      node.nodeType === 1
        ? (name === undefined || (node as Element).slot === name) &&
          ((node as Element).localName !== 'slot' || passesContent(node as HTMLSlotElement, root, through))
        : node.nodeType === 3 && !name && /\S/.test(node.nodeValue!);
    if (isContent) return true;
  }
  return false;
}

function passesContent(slot: HTMLSlotElement, root: Node, through: Through): boolean {
  const { host, slotAssignment } = root as ShadowRoot;
  if (host) {
    through(host);
    const isManual = slotAssignment === 'manual';
    // The slot may be out of the tree, where nothing is assigned to it.
    const nodes = isManual ? slot.assignedNodes() : host.childNodes;
    if (areContent(nodes, isManual ? undefined : slot.name, host.getRootNode(), through)) return true;
  }
  return areContent(slot.childNodes, undefined, root, through);
}
