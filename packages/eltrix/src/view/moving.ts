/** Moves parts of a view among their siblings, so that the focus is kept. */
import { nodesOf, type Span } from './span.ts';

interface Movable {
  moveBefore(node: Node, child: Node | null): void;
}

/**
 * Moves the nodes of a row among its siblings. Focus, scroll position and frames are kept where the engine has
 * `moveBefore` (DOM §4.2.6), which refuses nodes that have left the document.
 */
export function move(row: Span, next: Node): void {
  const parent = next.parentNode as Node & Movable;
  const isMovable = 'moveBefore' in parent && parent.isConnected;
  for (const node of nodesOf(row))
    parent[isMovable && node.parentNode === parent ? 'moveBefore' : 'insertBefore'](node, next);
}

/** The row with the focus, in an engine where it would lose it by being moved. */
export function heldByFocus<S extends Span>(rows: readonly S[], parent: Node): S | undefined {
  const { activeElement } = parent.getRootNode() as Document | ShadowRoot;
  if ('moveBefore' in parent || !parent.contains(activeElement)) return undefined;
  return rows.find(row => nodesOf(row).some(node => node.contains(activeElement)));
}
