/**
 * Takes over a view that a server has rendered: its nodes are paired with those of the template and connected as if they
 * had been made here. Where they differ, the smallest part around is made anew.
 */
import { closing, opening } from './sent-marks.ts';

/** The comment with which the view of an element without a shadow root begins. */
export const viewMark = 'eltrix-view';
/** On a slot without a shadow root that shows what the page gave rather than its fallback. */
export const givenMark = 'data-given';
/** On what a server sent beside a view: styles, data, fallback that does not show. */
export const sentMark = 'data-eltrix';

/** The next node that was sent; undefined while nodes are made. */
let next: Node | null | undefined;

export const isTaking = (): boolean => next !== undefined;
export const nextSent = (): Node | null => next!;
export const passTo = (node: Node | null): void => {
  next = node;
};

/** Runs a function with another place to take from; undefined: it makes nodes. */
export function takingFrom<T>(from: Node | null | undefined, fn: () => T): T {
  const outer = next;
  next = from;
  try {
    return fn();
  } finally {
    next = outer;
  }
}

/** What the page gave to elements without a shadow root that have taken their views over. */
export const givenTo = /* @__PURE__ */ new WeakMap<Element, () => readonly Node[]>();

/** The mark in front of what an expression shows, by the mark behind it. */
const opens = new WeakMap<Node, Node>();

/** Where an expression's sent content begins, asked for once. */
export function openOf(close: Node): Node | undefined {
  const open = opens.get(close);
  opens.delete(close);
  return open;
}

export const isMark = (node: Node | null, mark: string): boolean =>
  node !== null && node.nodeType === 8 && (node as Comment).data === mark;

/** What was sent is not what is shown now. */
export class Differs extends Error {}

export const differs = (expected: unknown, sent: Node | null): Differs =>
  new Differs(__DEV__ ? `the server sent ${described(sent)}, and here stands ${described(expected)}` : '');

function described(node: unknown): string {
  if (node === null || node === undefined) return 'nothing';
  if (typeof node === 'string') return JSON.stringify(node.slice(0, 60));
  const { nodeType, localName, data } = node as { nodeType: number; localName?: string; data?: string };
  if (nodeType === 1) return `<${localName}>`;
  if (nodeType === 8) return data === closing ? 'the end of an expression' : 'an expression';
  return JSON.stringify((data ?? '').slice(0, 60));
}

/** The mark behind what an expression shows. */
export function closeOf(open: Node): ChildNode {
  let depth = 0;
  let node = open.nextSibling;
  for (; node; node = node.nextSibling) {
    if (isMark(node, opening)) depth++;
    else if (isMark(node, closing) && depth-- === 0) break;
  }
  if (!node) throw differs(undefined, open);
  opens.set(node, open);
  return node;
}

/**
 * Pairs the nodes of a template with those that were sent, from `nextSent()` on, and passes to what follows.
 *
 * @param root of the template, as it is copied.
 * @param wanted its nodes that have bindings.
 * @returns the sent ones; of an expression between tags the mark behind it.
 * @throws Differs
 */
export function takeNodes(root: Node, wanted: readonly Node[]): Node[] {
  const pairs = new Map<Node, Node | undefined>(wanted.map(node => [node, undefined]));
  const isStatic = (node: Node) => node.nodeType === 8 || (node.nodeType === 3 && !pairs.has(node));
  const all = (node: Node | null, at: Node | null): Node | null => {
    while (node) {
      if (!isStatic(node)) {
        at = one(node, at);
        node = node.nextSibling;
        continue;
      }
      // Comments may be missing on either side, so that two texts are one on the other.
      const [text, nextNode] = textFrom(node, isStatic);
      const [sent, after] = textFrom(at, isPlain);
      if (text !== sent) throw differs(text, at);
      node = nextNode;
      at = after;
    }
    return passedComments(at);
  };
  const one = (node: Node, from: Node | null): Node | null => {
    const at = passedComments(from);
    if (node.nodeType === 3) {
      if (!isMark(at, opening)) throw differs(node, at);
      const close = closeOf(at!);
      pairs.set(node, close);
      return close.nextSibling;
    }
    if (at === null || at.nodeType !== 1 || (at as Element).localName !== (node as Element).localName)
      throw differs(node, at);
    if (pairs.has(node)) pairs.set(node, at);
    children(node as Element, at as Element);
    return at.nextSibling;
  };
  const children = (element: Element, sent: Element) => {
    let rest: Node | null;
    if (isMark(sent.firstChild, viewMark)) return inSlots(element, sent);
    if (sent.hasAttribute(givenMark))
      // Its fallback was sent apart.
      rest = all(element.firstChild, fallbackOf(sent)?.content.firstChild ?? null);
    else if ('content' in element)
      rest = all((element as HTMLTemplateElement).content.firstChild, (sent as HTMLTemplateElement).content.firstChild);
    else rest = all(element.firstChild, sent.firstChild);
    if (rest !== null) throw differs(undefined, rest);
  };
  /** The children of an element without a shadow root stand in the slots of its view. */
  const inSlots = (element: Element, sent: Element) => {
    const bySlot = new Map<string, Node[]>();
    const add = (name: string, node: Node) => {
      if (!isMark(node, '') && !isApart(node)) bySlot.set(name, [...(bySlot.get(name) ?? []), node]);
    };
    const taken = givenTo.get(sent)?.() ?? [];
    for (const node of taken) add(slotName(node), node);
    if (taken.length === 0) {
      for (const slot of slotsOf(sent))
        if (slot.hasAttribute(givenMark)) for (const node of slot.childNodes) add(slot.name, node);
      for (const node of fallbackOf(sent)?.content.childNodes ?? []) add(slotName(node), node);
    }
    for (let node = element.firstChild; node; node = node.nextSibling) {
      const nodes = bySlot.get(slotName(node)) ?? [];
      if (node.nodeType === 8 || (isStatic(node) && (node as Text).data === '')) continue;
      if (isStatic(node)) {
        const sent = nodes.shift() ?? null;
        if ((sent as Text | null)?.data !== (node as Text).data) throw differs(node, sent);
        continue;
      }
      const after = one(node, nodes[0] ?? null);
      while (nodes.length > 0 && nodes[0] !== after) nodes.shift();
    }
  };
  next = root.nodeType === 11 ? all(root.firstChild, next!) : passedComments(one(root, next!));
  return wanted.map(node => pairs.get(node)!);
}

const isMarkOfOurs = (node: Node) => /^[[\],]$/.test((node as Comment).data);
const isPlain = (node: Node) => node.nodeType === 3 || (node.nodeType === 8 && !isMarkOfOurs(node));

function passedComments(node: Node | null): Node | null {
  while (node !== null && node.nodeType === 8 && !isMarkOfOurs(node)) node = node.nextSibling;
  return node;
}

/** The text from a node on, and what follows it. */
function textFrom(node: Node | null, counts: (node: Node) => boolean): [text: string, after: Node | null] {
  let text = '';
  for (; node && counts(node); node = node.nextSibling) if (node.nodeType === 3) text += (node as Text).data;
  return [text, node];
}

const slotName = (node: Node) => (node.nodeType === 1 && (node as Element).getAttribute('slot')) || '';

/** Whether it holds what does not show: a fallback, or what has no slot. */
export const isApart = (node: Node): boolean =>
  node.nodeType === 1 && (node as Element).localName === 'template' && (node as Element).hasAttribute(sentMark);

export const fallbackOf = (slot: Element): HTMLTemplateElement | null =>
  slot.querySelector<HTMLTemplateElement>(`:scope > template[${sentMark}]`);

/** The slots of a view without a shadow root, without those of such elements inside it. */
export function slotsOf(root: Element): HTMLSlotElement[] {
  const slots: HTMLSlotElement[] = [];
  for (const child of root.children) {
    if (child.localName === 'slot') slots.push(child as HTMLSlotElement);
    if (!isMark(child.firstChild, viewMark) && !child.hasAttribute(givenMark)) slots.push(...slotsOf(child));
  }
  return slots;
}

/** Takes out what stands from a node up to another. */
export function removeUntil(from: Node | null, end: Node | null): void {
  while (from !== null && from !== end) {
    const { nextSibling } = from;
    (from as ChildNode).remove();
    from = nextSibling;
  }
}

/**
 * Takes something over, and makes it anew if it differs.
 *
 * @param end what has to come next when all is taken.
 * @param again removes what was sent and made so far, before `take` is called to make nodes.
 */
export function takeOrMake(
  from: Node | null,
  end: Node | null,
  take: () => void,
  again: () => void,
  where: () => string,
): void {
  try {
    takingFrom(from, () => {
      take();
      if (next !== end) throw differs(undefined, next!);
    });
  } catch (error) {
    if (!(error instanceof Differs)) throw error;
    if (__DEV__) tellDifference(where(), error.message);
    again();
    takingFrom(undefined, take);
  }
}

/** Development: the author is told of what a server sent otherwise. */
export function tellDifference(where: string, text: string): void {
  console.warn(
    `Warning (sent-differs): ${where}: ${text}. What differs was made anew. Render with the same data, time zone and language as the browser has, or put what only the browser knows into connected().`,
  );
}

/** The text that an expression shows, where a server sent the mark behind it: the node in front of the mark. */
export function showSentText(close: Node, text: string): Node | undefined {
  const before = close.previousSibling!;
  if (before.nodeType === 3) {
    if ((before as Text).data !== text) (before as Text).data = text;
  } else if (text !== '') {
    const node = close.ownerDocument!.createTextNode(text);
    (close as ChildNode).before(node);
    return node;
  }
  return undefined;
}

type Field = Omit<HTMLInputElement, 'type'> & { readonly type: string; readonly options?: HTMLOptionsCollection };

/**
 * A field whose value a server has sent as an attribute. What a reader has typed or chosen before the script came stays,
 * and whoever listens is told of it; else it gets the value as its property, which is all that it has when it is made here.
 */
export function takeField(element: Element, write: () => void): void {
  const { type, checked, defaultChecked, value, defaultValue, options } = element as unknown as Field;
  const isBox = type === 'checkbox' || type === 'radio';
  const chosen = [...(options ?? [])];
  const isEdited = isBox
    ? checked !== defaultChecked
    : options
      ? chosen.some(option => option.defaultSelected) &&
        chosen.some(option => option.selected !== option.defaultSelected)
      : value !== defaultValue;
  if (isEdited)
    queueMicrotask(() => {
      for (const name of ['input', 'change']) element.dispatchEvent(new Event(name, { bubbles: true }));
    });
  else write();
  if (isBox) element.removeAttribute('checked');
  else if (options) for (const option of chosen) option.removeAttribute('selected');
  else element.removeAttribute('value');
}
