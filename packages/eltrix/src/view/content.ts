import { kindOf } from '../signals/kind-of.ts';
import { isSignal } from '../signals/readable.ts';
import type { Member } from '../signals/state.ts';
import { asText } from './as-text.ts';
import { nextStanding } from './departing.ts';
import { currentList, inList, type ListReadings } from './expression.ts';
import { isMarkup } from './piece.ts';
import { isLiveValue, type Placed, PlacedExpression, place } from './placeable.ts';
import { nodesOf } from './span.ts';
import {
  closeOf,
  differs,
  nextSent,
  openOf,
  passTo,
  removeUntil,
  reportDifference,
  takeOrMake,
} from './taking-over.ts';
import { type Binder, type Binding, type ExpressionPlace, markAll, type Owner } from './template.ts';
import { warnUnread } from './unread-signal.ts';
import { fill, View } from './view.ts';
import { whereIs } from './whereabouts.ts';

/**
 * An expression between nodes. The anchor is a text node after the shown nodes; if the expression shows text, the
 * anchor holds it.
 */
export class ContentExpression extends PlacedExpression {
  text = '';
  /** The mark before the nodes that a server has sent, until they are adopted. */
  declare sent?: Node | undefined;
  /** The text before that mark, where the anchor is the mark after them. */
  declare sentText?: Text;
  /** Its element, and those of the template before and after it, once it has been shown there. */
  parent: (ParentNode & Node) | null = null;
  previous: Element | null = null;
  next: Element | null = null;

  /**
   * @param model its node in the template, if its element keeps what the view puts into it.
   * @param siblings the bindings of the same copy.
   */
  constructor(
    owner: Owner,
    anchor: ChildNode,
    public model?: Node,
    readonly siblings?: readonly (Binding | undefined)[],
  ) {
    super(owner, anchor);
    if (__RENDERED__ && anchor.nodeType === 8) this.sent = openOf(anchor);
  }

  /** Among others also if it is not live: one of them may have to put it back. */
  override get lasts(): boolean {
    return super.lasts || (this.model?.parentNode?.childNodes.length ?? 0) > 1;
  }

  override apply(value: unknown): void {
    if (__RENDERED__ && this.sent !== undefined) return takeOver(this, this.sent, value);
    if (this.model) this.keepPlace(value);
    // It gets an expression inside this one.
    if (isLiveValue(value)) value = [value];
    const { content } = this;
    if (isMarkup(value)) {
      if (content instanceof View && content.template === value.template()) return content.update(value.values);
      const view = new View();
      return this.replace(view, fill(view, value, this.home, true));
    }
    if (typeof value !== 'object' || value === null) return this.showText(value);
    if (place in value) super.apply(value);
    else if ('nodeType' in value) this.showNode(value as unknown as Node);
    else if (Symbol.iterator in value) {
      if (!(content instanceof List)) this.clear(new List(this.home, this.anchor, this.place));
      (this.content as List).show(value as Iterable<unknown>);
    } else this.showText(value);
  }

  /** Remembers its place, or puts back what others have replaced, before it shows a value. */
  keepPlace(value: unknown): void {
    const { parent, anchor, model } = this;
    this.last = value;
    if (parent) {
      if (!this.isInPlace) this.putBack(parent);
      return;
    }
    this.parent = anchor.parentNode;
    if ((model!.parentNode as Element).childElementCount === 0) return;
    // What a server sent is there already.
    if (__RENDERED__ && anchor.nodeType === 8) this.model = undefined;
    // Of several between two elements, the first one is made before there is anything else.
    const { previousElementSibling, nextElementSibling } = anchor as Text;
    this.previous = previousElementSibling;
    this.next = nextElementSibling;
  }

  /** Whether what it shows is still there: translators of pages, and others, replace texts. Keyed lists look themselves. */
  get isInPlace(): boolean {
    const { anchor, content, text, sentText } = this;
    const { parentNode } = anchor;
    if (!parentNode) return false;
    if (content instanceof List) return content.expressions.every(one => one.isInPlace);
    if (content instanceof View) {
      const { first, last } = content;
      // After an element others may have inserted something, as libraries for fields do.
      const isLast = last.nodeType !== 3 || nextStanding(last) === anchor;
      return first.parentNode === parentNode && last.parentNode === parentNode && isLast;
    }
    const shown = (__RENDERED__ && sentText) || (anchor as Text);
    return content !== undefined || !text || (shown.parentNode === parentNode && shown.data === text);
  }

  /**
   * Rebuilds what is between two elements of the template, except for what it shows itself. Siblings that are in place
   * stay.
   */
  putBack(parent: ParentNode & Node): void {
    const { next } = this;
    const all = this.siblings!.filter(
      (one): one is ContentExpression => one instanceof ContentExpression && one.parent === parent && one.next === next,
    );
    const previous = all[0]!.previous;
    if ([previous, next].some(one => one && one.parentNode !== parent)) return;
    const lost = all.filter(one => one === this || !one.isInPlace);
    for (const one of lost) one.clear();
    let model = all[0]!.model as Node | null | undefined;
    while (model?.previousSibling && model.previousSibling.nodeType !== 1) model = model.previousSibling;
    const wanted: ChildNode[] = [];
    for (; model && model.nodeType !== 1; model = model.nextSibling) {
      const one = all.find(one => one.model === model);
      wanted.push(
        ...(one ? nodesOf({ first: one.first as ChildNode, last: one.anchor }) : [model.cloneNode() as ChildNode]),
      );
    }
    const start = () => (previous ? previous.nextSibling : parent.firstChild);
    for (let node = start(), after: ChildNode | null; node && node !== next; node = after) {
      after = node.nextSibling;
      if (!wanted.includes(node)) node.remove();
    }
    let at = start();
    for (const node of wanted)
      if (node === at) at = at.nextSibling;
      else parent.insertBefore(node, at);
    for (const one of all)
      if (!lost.includes(one)) one.content ?? one.setText(one.text);
      else if (one !== this) one.bring(one.last);
  }

  /** Removes the present nodes; `content` or `text` replaces them. */
  override clear(content?: Placed, text = ''): void {
    super.clear(content);
    if (text !== this.text) this.setText((this.text = text));
  }

  setText(text: string): void {
    if (__RENDERED__ && this.anchor.nodeType === 8) {
      const { sentText, anchor, home } = this;
      // Not the node before the anchor: the next content may be there already.
      if (sentText?.parentNode) sentText.data = text;
      else {
        anchor.before((this.sentText = home.document.createTextNode(text)));
        home.placed(this.sentText);
      }
    } else (this.anchor as Text).data = text;
  }

  showText(value: unknown): void {
    if (__DEV__ && value !== null && !/^(?:string|number|bigint|boolean|undefined)$/.test(typeof value))
      warnOdd(this, value);
    const text = asText(value);
    if (__RENDERED__ && nextSent()) takeText(this, text);
    this.clear(undefined, text);
  }

  /** Replaces the present nodes by a node. */
  replace(content: Placed, node: Node | undefined): void {
    this.clear(content);
    if (node) this.anchor.parentNode!.insertBefore(node, this.anchor);
  }

  showNode(given: Node): void {
    const { content: inside } = given as Partial<HTMLTemplateElement>;
    const node = (given as Element).localName === 'template' && inside ? document.importNode(inside, true) : given;
    const { content } = this;
    if (
      content instanceof Nodes &&
      content.nodes[0] === node &&
      content.nodes.length === 1 &&
      node.nextSibling === this.anchor
    )
      return;
    this.home.placed(node);
    this.replace(new Nodes(node.nodeType === 11 ? [...node.childNodes] : [node as ChildNode]), node);
  }
}

/**
 * Adopts the nodes that a server sent for the first value. A function, since a build cannot remove an unused method.
 */
function takeOver(expression: ContentExpression, open: Node, value: unknown): void {
  const { anchor } = expression;
  expression.sent = undefined;
  takeOrMake(
    open,
    anchor,
    () => expression.apply(value),
    () => {
      expression.content?.dispose();
      expression.content = undefined;
      expression.text = '';
      removeUntil(open.nextSibling, anchor);
    },
    expression,
  );
}

/** Adopts the text that a server sent, and corrects it if it differs. */
function takeText(expression: ContentExpression, text: string): void {
  const node = nextSent() as Text;
  if (node.nodeType !== 3) return;
  expression.text = node.data;
  expression.sentText = node;
  passTo(node.nextSibling);
  if (__DEV__ && expression.text !== text) reportDifference(expression, (differs(text, node) as Error).message);
}

function warnOdd({ home, place }: ContentExpression, value: unknown): void {
  if (isSignal(value)) return warnUnread(whereIs(home, place));
  console.warn(
    `Warning (odd-value): ${whereIs(home, place)}: ${kindOf(value)} was given, but text, nodes, markup or a list is expected. ` +
      `Showing ${JSON.stringify(String(value).slice(0, 60))}. Read the field that you mean, or pass the value as a property: <x-y \${{ name: value }}>.`,
  );
}

/** Nodes created by the author: inserted and removed, never changed. */
class Nodes implements Placed {
  constructor(readonly nodes: readonly ChildNode[]) {}

  get first(): Node | undefined {
    return this.nodes[0];
  }

  dispose(): void {}

  remove(): void {
    for (const node of this.nodes) node.remove();
  }
}

/** A list without keys: each value has a separate content expression. */
class List implements Placed {
  readonly expressions: ContentExpression[] = [];
  readonly readings: ListReadings = { mask: 0, around: currentList() };

  constructor(
    readonly owner: Owner,
    readonly anchor: ChildNode,
    readonly where: ExpressionPlace | undefined,
  ) {}

  get first(): Node | undefined {
    return this.expressions[0]?.first;
  }

  show(values: Iterable<unknown>): void {
    let count = 0;
    for (const value of values) {
      let expression = this.expressions[count];
      if (__RENDERED__ && !expression && nextSent()) {
        const close = closeOf(nextSent()!);
        passTo(close.nextSibling);
        expression = this.#make(close);
      } else if (!expression) {
        const anchor = this.owner.document.createTextNode('');
        this.owner.placed(anchor);
        this.anchor.before(anchor);
        expression = this.#make(anchor);
      }
      expression.set(value);
      count++;
    }
    for (const expression of this.expressions.splice(count)) removeExpression(expression);
  }

  #make(anchor: ChildNode): ContentExpression {
    const expression = inList(this.readings, () => new ContentExpression(this.owner, anchor));
    // An array is another one each time.
    expression.renewable = true;
    if (__DEV__) expression.place = this.where;
    this.expressions.push(expression);
    return expression;
  }

  mark(stale: number, due: Member[]): void {
    if (stale & this.readings.mask || this.owner.looksAtAll) markAll(this.expressions, stale, due);
  }

  dispose(): void {
    for (const expression of this.expressions) expression.dispose();
  }

  remove(): void {
    for (const expression of this.expressions) removeExpression(expression);
  }
}

function removeExpression(expression: ContentExpression): void {
  expression.dispose();
  expression.clear();
  expression.anchor.remove();
}

export const bindContent: Binder = /* @__PURE__ */ Object.assign(
  ((node, owner) => new ContentExpression(owner, node as ChildNode)) satisfies Binder,
  {
    among:
      (model: Node): Binder =>
      (node, owner, siblings) =>
        new ContentExpression(owner, node as ChildNode, model, siblings),
  },
);
