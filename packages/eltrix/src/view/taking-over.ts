/**
 * Adopts a view that a server has rendered: pairs its nodes with those of the template and creates the bindings on
 * them. Where they differ, the smallest enclosing expression is rebuilt. Only builds with `--render` contain this
 * file, so it is small: every error during pairing counts as a difference.
 */
import { closing, givenMark, isMark, opening, viewMark } from './sent-marks.ts';
import { apartIn, givenIn, givenTo, slotName } from './sent-slots.ts';
import type { ExpressionPlace, Owner } from './template.ts';
import { whereIs } from './whereabouts.ts';

/** What messages name: an expression, or a view. */
interface Where {
  readonly home: Owner;
  readonly place?: ExpressionPlace | undefined;
}

/** The next node that the server sent; undefined while nodes are created. */
let next: Node | undefined;

export const nextSent = (): Node | undefined => next;
export const passTo = (node: Node | null | undefined): void => {
  next = node ?? undefined;
};

/** The mark at the other end of an expression's output. */
function otherEnd(mark: Node, step: 'nextSibling' | 'previousSibling', begins: string): ChildNode {
  let depth = 1;
  let node = mark;
  while (depth > 0) {
    node = node[step]!;
    if (node.nodeType !== 8) continue;
    const { data } = node as Comment;
    if (data === begins) depth++;
    else if (data === opening || data === closing) depth--;
  }
  return node as ChildNode;
}

/** The mark after an expression's output. */
export function closeOf(open: Node): ChildNode {
  // Most expressions have one text, or none.
  const first = open.nextSibling!;
  const end = first.nodeType === 3 ? first.nextSibling : first;
  return isMark(end, closing) ? (end as ChildNode) : otherEnd(open, 'nextSibling', opening);
}
/** The mark before an expression's output. */
export const openOf = (close: Node): ChildNode => otherEnd(close, 'previousSibling', closing);

/** A node of a template, as it has to be found among the sent nodes. */
interface Expected {
  /** Its text; the tag of an element; undefined for an expression between tags. */
  readonly is: string | undefined;
  readonly isElement: boolean;
  /** Its number among the nodes with bindings; -1 for others. */
  readonly index: number;
  /** Its place in an element without a shadow root. */
  readonly slot: string;
  readonly children: readonly Expected[];
}

/** Asking every node for `content` would be slow. */
const contentOf = (element: Node, tag: unknown): Node | null =>
  (tag === 'template' ? ((element as HTMLTemplateElement).content ?? element) : element).firstChild;

function expect(first: Node | null, wanted: readonly Node[], list: Expected[] = []): Expected[] {
  for (let node = first; node; node = node.nextSibling) {
    const index = wanted.indexOf(node);
    const isElement = node.nodeType === 1;
    const is = isElement ? (node as Element).localName : (node as Text).data;
    // Placeholders of templates cannot be sent.
    if (index < 0 && !isElement && (node.nodeType === 8 || is === '')) continue;
    list.push({
      is: index < 0 || isElement ? is : undefined,
      isElement,
      index,
      slot: (isElement && (node as Element).getAttribute('slot')) || '',
      children: expect(contentOf(node, is), wanted),
    });
  }
  return list;
}

/**
 * Finds nodes from `at` on, and puts those with bindings into `found`. @returns the next node. @throws if they differ.
 */
function match(expected: readonly Expected[], at: Node | null, found: Node[]): Node | null {
  for (const { is, isElement, index, children } of expected) {
    if (is === undefined) {
      if (!isMark(at, opening)) throw differs('an expression', at);
      found[index] = at = closeOf(at!);
    } else if (!isElement) {
      if ((at as Text).data !== is) throw differs(is, at);
    } else {
      if ((at as Element).localName !== is) throw differs(`<${is}>`, at);
      if (index >= 0) found[index] = at!;
      if (!matchGiven(children, at as Element, found)) {
        const rest = match(children, contentOf(at!, is), found);
        // Texts of an element without content may be what a binding has set.
        const isSet = index >= 0 && children.length === 0 && !(at as Element).firstElementChild;
        if (rest && !isSet) throw differs(undefined, rest);
      }
    }
    at = at!.nextSibling;
  }
  return at;
}

/**
 * Finds the children that a template gives to an element without a shadow root: they are in the slots of its view. Or
 * the fallback of one of these slots. Its class may not be there yet.
 */
function matchGiven(expected: readonly Expected[], sent: Element, found: Node[]): boolean {
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

/** By the root of a template: its nodes, and for each node with bindings the first of its indexes. */
const expectations = /* @__PURE__ */ new WeakMap<Node, readonly [Expected[], number[]]>();

/**
 * Finds the nodes of a template among the sent nodes, from `nextSent()` on, and moves on to the next node.
 *
 * @param root of the template.
 * @param walk finds its nodes with bindings.
 * @returns the sent nodes with bindings; for an expression between tags the mark after it.
 * @throws any error if they differ.
 */
export function takeNodes(root: Node, walk: (root: Node) => readonly Node[]): Node[] {
  let known = expectations.get(root);
  if (!known) {
    const wanted = walk(root);
    const expected = expect(root.nodeType === 1 ? root : root.firstChild, wanted);
    expectations.set(root, (known = [expected, wanted.map(node => wanted.indexOf(node))]));
  }
  const found: Node[] = [];
  passTo(match(known[0], next!, found));
  return known[1].map(index => found[index]!);
}

/**
 * The HTML may be parsed to other elements than were sent, as a `<div>` in a `<p>` is. Then marks are in other places,
 * and do not say where an expression ends. @throws if the marks in a root are not in pairs.
 */
export function checkMarks(root: Node): void {
  const open = new Map<Node, number>();
  const comments = document.createTreeWalker(root, NodeFilter.SHOW_COMMENT);
  while (comments.nextNode()) {
    const { data, parentNode } = comments.currentNode as Comment;
    if (data === opening || data === closing)
      open.set(parentNode!, (open.get(parentNode!) ?? 0) + (data === opening ? 1 : -1));
  }
  for (const number of open.values())
    if (number !== 0)
      throw (
        __DEV__ &&
        new Error(
          'the browser has parsed other elements than the server sent, since one of them cannot be where it was, like a <div> in a <p>',
        )
      );
}

/** Removes the nodes from one node up to another. */
export function removeUntil(from: Node | null | undefined, end: Node | null): void {
  while (from && from !== end) {
    const { nextSibling } = from;
    (from as ChildNode).remove();
    from = nextSibling;
  }
}

/** Runs a function that adopts nodes from another place on; undefined: it creates nodes. */
export function takingFrom<T>(from: Node | null | undefined, fn: () => T): T {
  const outer = next;
  passTo(from);
  try {
    return fn();
  } finally {
    next = outer;
  }
}

/**
 * Adopts a part of a view, or rebuilds it if it differs.
 *
 * @param end the node that has to follow; undefined for any closing mark.
 * @param again removes the sent and created nodes, before `take` is called to create them.
 */
export function takeOrMake(open: Node, end: Node | undefined, take: () => void, again: () => void, where: Where): void {
  try {
    takingFrom(open.nextSibling, () => {
      take();
      if (end ? next !== end : !isMark(next, closing)) throw differs(undefined, next);
    });
  } catch (error) {
    if (__DEV__) reportDifference(where, error instanceof Error ? error.message : String(error));
    again();
    takingFrom(undefined, take);
  }
}

/**
 * Shows the text of an expression that shows nothing else, before the mark that the server sent. @returns a new node.
 */
export function showSentText(close: Node, text: string): Node | undefined {
  const before = close.previousSibling!;
  if (before.nodeType === 3) {
    if ((before as Text).data !== text) (before as Text).data = text;
  } else if (text) {
    const node = close.ownerDocument!.createTextNode(text);
    (close as ChildNode).before(node);
    return node;
  }
  return undefined;
}

type Field = Omit<HTMLInputElement, 'type'> & { readonly type: string; readonly options?: HTMLOptionsCollection };

/**
 * A field whose value a server has sent, as an attribute or as text. A value that the user has entered before the script
 * arrived stays, and the field's listeners are called. Otherwise the value is set.
 *
 * @param wanted the value; undefined for what cannot be compared with the present one.
 */
export function takeField(element: Element, present: unknown, wanted: unknown, write: () => void): void {
  const isShown = wanted !== undefined && String(present) === String(wanted);
  const field = element as unknown as Field;
  const { type, checked, defaultChecked, value, defaultValue, options } = field;
  const isBox = type === 'checkbox' || type === 'radio';
  const chosen = options ? [...options] : element.localName === 'option' ? [element as HTMLOptionElement] : undefined;
  const isEdited = isBox
    ? checked !== defaultChecked
    : chosen
      ? chosen.some(isChosenByUser)
      : defaultValue === undefined
        ? field.isContentEditable && !isShown
        : value !== defaultValue;
  const name = isBox ? 'checked' : chosen ? 'selected' : 'value';
  // A custom element keeps its attribute.
  const sent = (chosen ?? [element]).filter(one => /^(?:input|option)$/.test(one.localName) && one.hasAttribute(name));
  const remove = () => {
    for (const one of sent) one.removeAttribute(name);
  };
  // Without its attribute an option is not selected any more, unless it was changed itself. A text stays as it is, and
  // its caret, if the value is set before.
  const selected = chosen?.map(option => option.selected);
  if (chosen) remove();
  if (isEdited) {
    chosen?.forEach((option, at) => {
      option.selected = selected![at]!;
    });
    queueMicrotask(() => {
      // Those of an option are events of its field.
      const target = element.closest('select') ?? element;
      for (const name of ['input', 'change']) target.dispatchEvent(new Event(name, { bubbles: true }));
    });
  } else if (!isShown || sent.length > 0) write();
  if (!chosen) remove();
}

/** Whether an option is selected, or not any more, since the page was parsed. */
function isChosenByUser(option: HTMLOptionElement): boolean {
  const select = option.closest('select');
  const options = [...(select?.options ?? [option])];
  // A menu without a selected option selects the first one that is not disabled (HTML §4.10.7).
  const isMenu = select && !select.multiple && select.size < 2 && !options.some(one => one.defaultSelected);
  const first = isMenu ? options.find(one => !one.disabled) : undefined;
  return option.selected !== (option.defaultSelected || option === first);
}

/** Whether a property sets text that the server has sent: setting it again would replace the node. */
export function isSentText(element: object, key: string, value: unknown): boolean {
  return next !== undefined && /^(?:textContent|innerText)$/.test(key) && (element as never)[key] === value;
}

/** The sent value is not the present one. */
export const differs = (expected: unknown, sent: unknown): unknown =>
  __DEV__ && new Error(`the server sent ${described(sent)}, and the view has ${described(expected)}`);

function described(node: unknown): string {
  if (node === null || node === undefined) return 'nothing';
  if (typeof node === 'string') return JSON.stringify(node.slice(0, 60));
  const { nodeType, localName, data } = node as { nodeType: number; localName?: string; data?: string };
  if (nodeType === 1) return `<${localName}>`;
  if (nodeType === 8) return data === closing ? 'the end of an expression' : 'an expression';
  return JSON.stringify((data ?? '').slice(0, 60));
}

/** Development: warns of content that differs from what the server sent. */
export function reportDifference({ home, place }: Where, text: string): void {
  console.warn(
    `Warning (sent-differs): ${whereIs(home, place)}: ${text}. The part that differs was rebuilt. Render with the same data, time zone and language as the browser has, or put what only the browser knows into connected().`,
  );
}
