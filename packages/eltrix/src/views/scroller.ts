/** Ancestors across shadow roots and slots. */
import { parentAcross } from '../element/parent-across.ts';

/** Whether a node is inside an element. */
export const isInside = (element: Element | undefined, node: Node | null | undefined): boolean => {
  for (let at: Node | null | undefined = node; at; at = parentAcross(at)) if (at === element) return true;
  return false;
};

/** The element that scrolls a node, across shadow roots and slots; null for the viewport. */
export function scrollerOf(node: Node): Element | null {
  const up = (at: Node): Node | undefined => (at as Element).assignedSlot ?? parentAcross(at);
  for (let at = up(node); at; at = up(at)) {
    const { body, documentElement } = at.ownerDocument ?? document;
    if (at.nodeType !== 1 || at === body || at === documentElement) continue;
    if (/auto|scroll/.test(getComputedStyle(at as Element).overflowY)) return at as Element;
  }
  return null;
}
