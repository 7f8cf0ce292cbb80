/** The server's output for an element without a shadow root: where the element's content stands, and what is hidden. */
import { givenMark, isMark, sentMark, viewMark } from './sent-marks.ts';

/** The content of elements that have adopted their views. */
export const givenTo = /* @__PURE__ */ new WeakMap<Element, () => readonly Node[]>();

export const slotName = (node: Node) => (node.nodeType === 1 && (node as Element).getAttribute('slot')) || '';

/** Whether it contains hidden content: a fallback, or nodes without a slot. */
export const isApart = (node: Node): boolean =>
  node.nodeType === 1 && (node as Element).localName === 'template' && (node as Element).hasAttribute(sentMark);

export const apartIn = (element: Element): HTMLTemplateElement | undefined =>
  [...element.children].find(isApart) as HTMLTemplateElement | undefined;

/** The slots of a view, without those of nested elements of the same kind. */
export function slotsOf(root: Element): HTMLSlotElement[] {
  const slots: HTMLSlotElement[] = [];
  for (const child of root.children) {
    if (child.localName === 'slot') slots.push(child as HTMLSlotElement);
    if (!isMark(child.firstChild, viewMark) && !child.hasAttribute(givenMark)) slots.push(...slotsOf(child));
  }
  return slots;
}

/** The content of an element, in the slots of its view. */
export function givenIn(host: Element): ChildNode[] {
  const inSlots = slotsOf(host)
    .filter(slot => slot.hasAttribute(givenMark))
    .flatMap(slot => [...slot.childNodes])
    .filter(node => !isApart(node));
  return [...inSlots, ...(apartIn(host)?.content.childNodes ?? [])];
}
