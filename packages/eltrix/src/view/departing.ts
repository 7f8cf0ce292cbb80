/**
 * Elements that stay on the page while they animate out. `leaving()` fills these functions; most pages do not use it.
 */
interface Departing {
  /** Keeps a node that is to be removed, and removes it later. @returns false if the node can be removed at once. */
  begin?(node: ChildNode): boolean;
  /** Whether a node is only there until its animation ends. */
  has?(node: Node): boolean;
}

export const departing: Departing = {};

export function takeOut(node: ChildNode): void {
  if (!departing.begin?.(node)) node.remove();
}

/** The next sibling that belongs to a view. */
export function nextStanding(node: Node): Node | null {
  let next = node.nextSibling;
  while (next !== null && departing.has?.(next)) next = next.nextSibling;
  return next;
}
