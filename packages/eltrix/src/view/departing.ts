/** Elements that stay for a while after their part of the view is gone; filled by `leaving()`, which not every page has. */
interface Departing {
  /** Keeps a node that is to be taken out, and takes it out later. Returns false if it can go at once. */
  begin?(node: ChildNode): boolean;
  /** Whether a node stands there only until it has left. */
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
