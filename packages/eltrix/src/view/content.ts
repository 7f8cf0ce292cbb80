import { isSignal, kindOf } from '../signals/kind-of.ts';
import type { Member } from '../signals/state.ts';
import { asText } from './as-text.ts';
import { currentList, DeepHole, inList, type ListReadings, type Show, whereIs } from './hole.ts';
import { isMarkup } from './piece.ts';
import {
  closeOf,
  differs,
  nextSent,
  opens,
  passTo,
  removeUntil,
  showSentText,
  takeOrMake,
  tellDifference,
} from './taking-over.ts';
import { type Binder, type HolePlace, markAll, type Owner } from './template.ts';
import { fill, View } from './view.ts';

/** How what places itself is recognised (`each`), also one that another copy of this module made. */
export const place: unique symbol = Symbol.for('eltrix.place.1') as never;

/** How what places itself gives a server something to show in its stead. */
export const onServer: unique symbol = Symbol.for('eltrix.server.1') as never;

/** A value that shows itself in a text hole. */
export interface Placeable {
  /** What a server shows, between marks of its own. */
  [onServer]?(): unknown;
  /** Shows itself before the anchor; what is there now comes from a like value, or is undefined. */
  [place](anchor: ChildNode, owner: Owner, present: Placed | undefined, where: HolePlace | undefined): Placed;
}

/** What a text hole shows, if it is more than text. */
export interface Placed {
  /** As that of a binding, for those inside. */
  mark?(stale: number, due: Member[]): void;
  /** Ends the bindings; the nodes stay. */
  dispose(): void;
  /** Ends the bindings and takes the nodes out. */
  remove(): void;
}

/** Never called: a content hole shows by itself. */
const show: Show = () => {};

/** A hole between nodes. The anchor is an empty text node behind what it shows; it holds the text itself. */
export class ContentHole extends DeepHole {
  text = '';
  content: Placed | undefined = undefined;
  /** The mark in front of what a server sent for it, until that is taken over. */
  declare sent?: Node | undefined;

  constructor(
    owner: Owner,
    readonly anchor: ChildNode,
  ) {
    super(owner, anchor, show);
    if (__RENDERED__) this.sent = opens.get(anchor);
  }

  override get lasts(): boolean {
    return this.fn !== undefined || this.content !== undefined;
  }

  override apply(value: unknown): void {
    if (__RENDERED__ && this.sent !== undefined) return takeOver(this, this.sent, value);
    const { content } = this;
    if (isMarkup(value)) {
      const template = value.template();
      if (content instanceof View && content.template === template) return content.update(value.values);
      const view = new View(template);
      return this.replace(view, fill(view, value, this.home, true));
    }
    if (typeof value !== 'object' || value === null) return this.showText(value);
    if (place in value) {
      const placed = (value as Placeable)[place](this.anchor, this.home, content, this.place);
      if (placed !== content) this.clear(placed);
    } else if ('nodeType' in value) this.showNode(value as unknown as Node);
    else if (Symbol.iterator in value) {
      if (!(content instanceof List)) this.clear(new List(this.home, this.anchor, this.place));
      (this.content as List).show(value as Iterable<unknown>);
    } else this.showText(value);
  }

  /** What was shown goes; something else comes. */
  clear(content?: Placed, text = ''): void {
    this.content?.remove();
    this.content = content;
    if (text !== this.text) this.setText((this.text = text));
  }

  setText(text: string): void {
    if (__RENDERED__ && this.anchor.nodeType === 8) {
      const made = showSentText(this.anchor, text);
      if (made) this.home.placed(made);
    } else (this.anchor as Text).data = text;
  }

  showText(value: unknown): void {
    if (__DEV__ && value !== null && !/^(?:string|number|bigint|boolean|undefined)$/.test(typeof value))
      warnOdd(this, value);
    const text = asText(value);
    if (__RENDERED__ && nextSent()) takeText(this, text);
    this.clear(undefined, text);
  }

  /** Shows a node in place of what is there. */
  replace(content: Placed, node: Node | undefined): void {
    this.clear(content);
    if (node) this.anchor.parentNode!.insertBefore(node, this.anchor);
  }

  showNode(given: Node): void {
    const node = given instanceof HTMLTemplateElement ? this.home.document.importNode(given.content, true) : given;
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

  override mark(stale: number, due: Member[]): void {
    super.mark(stale, due);
    this.content?.mark?.(stale, due);
  }

  override dispose(): void {
    super.dispose();
    this.content?.dispose();
  }
}

/** Shows the first value with the nodes that a server sent for it. A function, since a build cannot leave out a method. */
function takeOver(hole: ContentHole, open: Node, value: unknown): void {
  const { anchor } = hole;
  hole.sent = undefined;
  takeOrMake(
    open,
    anchor,
    () => hole.apply(value),
    () => {
      hole.content?.dispose();
      hole.content = undefined;
      hole.text = '';
      removeUntil(open.nextSibling, anchor);
    },
    hole,
  );
}

/** The text that was sent; where it is another one it is put right. */
function takeText(hole: ContentHole, text: string): void {
  const node = nextSent() as Text;
  if (node.nodeType !== 3) return;
  hole.text = node.data;
  passTo(node.nextSibling);
  if (__DEV__ && hole.text !== text) tellDifference(hole, (differs(text, node) as Error).message);
}

function warnOdd({ home, place }: ContentHole, value: unknown): void {
  console.warn(
    `Warning (odd-value): ${whereIs(home, place)}: ${kindOf(value)} was given where text, nodes, markup or a list can stand. ` +
      `Showing ${JSON.stringify(String(value).slice(0, 60))}. ${isSignal(value) ? 'Write ${() => name.get()}.' : 'Read the field that you mean, or pass the value as a property: <x-y ${{ name: value }}>.'}`,
  );
}

/** Nodes that the author made; they are put in and taken out, never changed. */
class Nodes implements Placed {
  constructor(readonly nodes: readonly ChildNode[]) {}

  dispose(): void {}

  remove(): void {
    for (const node of this.nodes) node.remove();
  }
}

/** A list without keys: the values show one after the other, each in a hole of its own. */
class List implements Placed {
  readonly holes: ContentHole[] = [];
  readonly readings: ListReadings = { mask: 0, around: currentList() };

  constructor(
    readonly owner: Owner,
    readonly anchor: ChildNode,
    readonly where: HolePlace | undefined,
  ) {}

  show(values: Iterable<unknown>): void {
    let count = 0;
    for (const value of values) {
      let hole = this.holes[count];
      if (__RENDERED__ && !hole && nextSent()) {
        const close = closeOf(nextSent()!);
        passTo(close.nextSibling);
        hole = this.#make(close);
      } else if (!hole) {
        const anchor = this.owner.document.createTextNode('');
        this.owner.placed(anchor);
        this.anchor.before(anchor);
        hole = this.#make(anchor);
      }
      hole.set(value);
      count++;
    }
    for (const hole of this.holes.splice(count)) removeHole(hole);
  }

  #make(anchor: ChildNode): ContentHole {
    const hole = inList(this.readings, () => new ContentHole(this.owner, anchor));
    if (__DEV__) hole.place = this.where;
    this.holes.push(hole);
    return hole;
  }

  mark(stale: number, due: Member[]): void {
    if (stale & this.readings.mask || this.owner.looksAtAll) markAll(this.holes, stale, due);
  }

  dispose(): void {
    for (const hole of this.holes) hole.dispose();
  }

  remove(): void {
    for (const hole of this.holes) removeHole(hole);
  }
}

function removeHole(hole: ContentHole): void {
  hole.dispose();
  hole.clear();
  hole.anchor.remove();
}

export const bindContent: Binder = (node, owner) => new ContentHole(owner, node as ChildNode);
