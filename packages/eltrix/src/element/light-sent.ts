/** The server's output for an element without a shadow root: where the element's content stands, and what is hidden. */
import { differs, type Expected, givenMark, isMark, type Match, sentMark, viewMark } from '../view/taking-over.ts';

/** The content of elements that have adopted their views. */
export const givenTo = /* @__PURE__ */ new WeakMap<Element, () => readonly Node[]>();

const slotName = (node: Node) => (node.nodeType === 1 && (node as Element).getAttribute('slot')) || '';

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

/** Finds the children that a template gives to such an element, or the fallback of one of its slots. */
export function matchGiven(expected: readonly Expected[], sent: Element, found: Node[], match: Match): boolean {
  if (sent.hasAttribute(givenMark)) {
    match(expected, apartIn(sent)?.content.firstChild ?? null, found);
    return true;
  }
  if (!isMark(sent.firstChild, viewMark)) return false;
  const bySlot = new Map<string, Node[]>();
  for (const node of givenTo.get(sent)?.() ?? givenIn(sent))
    if (!isMark(node, '')) bySlot.set(slotName(node), [...(bySlot.get(slotName(node)) ?? []), node]);
  for (const child of expected) {
    const nodes = bySlot.get(child.slot) ?? [];
    const first = nodes[0] ?? null;
    match([child], first, found);
    // An expression's output ends at its mark.
    const last = child.is === undefined ? found[child.index] : first;
    while (nodes.length > 0 && nodes.shift() !== last);
  }
  for (const [rest] of bySlot.values()) if (rest) throw differs(undefined, rest);
  return true;
}
