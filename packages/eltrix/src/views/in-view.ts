/** Long lists that render only the rows near the viewport. */
import { computed } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';
import { type Signal, signal } from '../signals/signal.ts';
import { type Member, state, untracked } from '../signals/state.ts';
import { piece } from '../view/compiled.ts';
import { Each, type RowMarkup } from '../view/each.ts';
import { Expression } from '../view/expression.ts';
import { onServer, type Placeable, type Placed, place } from '../view/placeable.ts';
import type { ExpressionPlace, Owner } from '../view/template.ts';
import { gapTemplate } from './gap.ts';
import { RowHeights } from './row-heights.ts';
import { isInside, scrollerOf } from './scroller.ts';

export interface InViewOptions {
  /** The assumed height of a row in CSS pixels until it is measured; 40 unless given. */
  readonly estimate?: number | undefined;
  /** How far outside the viewport rows are rendered, in CSS pixels; 400 unless given. */
  readonly margin?: number | undefined;
}

/** A long list in a view. */
export interface RowsInView {
  /** Indexes of the first row in the viewport and of the row after the last one; tracked. */
  range(): readonly [first: number, end: number];
  /** Scrolls a row to the start of the viewport, or as near as possible. */
  scrollTo(index: number): void;
}

/** Engines scroll at most about 17 million pixels (Firefox); a higher list is scrolled to scale. */
const tallest = 12_000_000;
/** The number of rows before the first measurement, and in server output. */
const firstRows = 30;

/**
 * As `each`, for lists of any length: only rows near the viewport exist. Heights may differ; they are measured. The row
 * with focus or with an end of the selection stays. Rows get `aria-posinset` and `aria-setsize`, those of tables
 * `aria-rowindex`, and the table `aria-rowcount`, so the whole count is announced.
 *
 * The list scrolls in its nearest ancestor with `overflow: auto` or `scroll`, or with the page. Keep it in a field and place it once: `rows = eachInView(…)`,
 * and `<ul>${this.rows}</ul>`.
 *
 * @example rows = eachInView(() => this.inspections, one => one.id, one => markup`<li>${() => one().note}</li>`, { estimate: 56 });
 */
export function eachInView<T>(
  items: readonly T[] | (() => readonly T[] | null | undefined),
  key: (item: T, index: number) => unknown,
  row: RowMarkup<T>,
  options: InViewOptions = {},
): RowsInView {
  return new InView(typeof items === 'function' ? items : () => items, key, row, options);
}

class InView<T> implements RowsInView, Placeable {
  readonly shown: Signal<readonly [number, number]> = signal<readonly [number, number]>([0, 0], {
    equals: (a, b) => a[0] === b[0] && a[1] === b[1],
  });
  standing: Standing<T> | undefined;

  constructor(
    readonly items: () => readonly T[] | null | undefined,
    readonly key: (item: T, index: number) => unknown,
    readonly row: RowMarkup<T>,
    readonly options: InViewOptions,
  ) {}

  range(): readonly [number, number] {
    return this.shown.get();
  }

  scrollTo(index: number): void {
    this.standing?.scrollTo(index);
  }

  [place](anchor: ChildNode, owner: Owner, present: Placed | undefined, where: ExpressionPlace | undefined): Placed {
    if (present instanceof Standing && present.list === (this as unknown)) return present;
    this.standing = new Standing(this, anchor, owner, where);
    untracked(() => this.standing!.begin());
    return this.standing;
  }

  [onServer](): unknown {
    return new Each((this.items() ?? []).slice(0, firstRows), this.key, this.row);
  }
}

/** A rendered row, or the space of rows that are not rendered. */
type Entry<T> =
  | { readonly isGap: false; readonly item: T; readonly index: number; readonly key: unknown }
  | { readonly isGap: true; readonly number: number; readonly height: number };

class Standing<T> implements Placed {
  readonly heights: RowHeights;
  /** The rows and the spaces between them. */
  rows: Placed | undefined;
  entries: readonly Entry<T>[] = [];
  items: readonly T[] = [];
  /** The elements of rendered rows, by key. */
  elements = new Map<unknown, Element>();
  /** The offset to add to the engine's scroll position, where the list is too high for the engine. */
  shift = 0;
  lastTop = 0;
  /** Sizes of the scroller at the last measurement. */
  width = 0;
  scroller: Element | null = null;
  readonly expression: Expression;
  /** The current items. */
  #given: readonly T[] | undefined;
  /** Whether the list has been laid out since. */
  #isLaidOut = false;

  constructor(
    readonly list: InView<T>,
    readonly anchor: ChildNode,
    readonly owner: Owner,
    readonly where: ExpressionPlace | undefined,
  ) {
    this.heights = new RowHeights(list.options.estimate ?? 40);
    this.expression = new Expression(owner, anchor, (_node, value) =>
      untracked(() => this.#take((value as readonly [readonly T[]])[0])),
    );
  }

  get first(): Node | undefined {
    return this.rows?.first;
  }

  /** Renders the first rows, and updates when items or visibility change while the element is connected. */
  begin(): void {
    const changes = outside(0, set => this.#follow(set));
    // Copied once for each change, not for each frame: reading a live list subscribes to all of it.
    const items = computed(() => {
      const given = this.list.items() ?? [];
      return (state.live?.items(given) as readonly T[] | undefined) ?? [...given];
    });
    this.expression.set(() => [items.get(), changes.get()]);
  }

  #take(items: readonly T[]): void {
    // Scrolling renders the same list again, and a moved element an equal one.
    const isNew =
      items !== this.#given &&
      (items.length !== this.items.length || items.some((item, at) => item !== this.items[at]));
    this.#given = items;
    if (isNew) {
      this.items = items;
      this.heights.setKeys(items.length, index => this.list.key(items[index]!, index));
    }
    if (this.#isLaidOut) this.look();
    // A moved element keeps its rows until there is a layout again.
    else if (isNew || this.rows === undefined)
      this.#show(items.slice(0, firstRows).map((item, index) => this.#entry(item, index)));
  }

  #entry(item: T, index: number): Entry<T> {
    return { isGap: false, item, index, key: this.list.key(item, index) };
  }

  /** Observes scrolling and sizes, from the next frame on: before it there is no layout. */
  #follow(set: (count: number) => void): () => void {
    let count = 0;
    let request = 0;
    let observer: ResizeObserver | undefined;
    let target: EventTarget | undefined;
    const view = this.#window;
    const queue = () => {
      request ||= view.requestAnimationFrame(() => {
        request = 0;
        if (!target) listen();
        this.#isLaidOut = true;
        set(++count);
      });
    };
    const listen = () => {
      this.scroller = scrollerOf(this.anchor);
      target = this.scroller ?? view;
      target.addEventListener('scroll', queue, { passive: true });
      view.addEventListener('resize', queue);
      observer = new ResizeObserver(queue);
      if (this.scroller) observer.observe(this.scroller);
    };
    queue();
    return () => {
      view.cancelAnimationFrame(request);
      this.#isLaidOut = false;
      target?.removeEventListener('scroll', queue);
      view.removeEventListener('resize', queue);
      observer?.disconnect();
    };
  }

  /** That of the document which the list is in, as of a picture-in-picture window. */
  get #window(): Window {
    return this.anchor.ownerDocument!.defaultView ?? window;
  }

  /** The start of the list in pixels above the upper edge of the viewport, and the visible height. */
  #measureView(): { top: number; height: number } {
    const first = this.#firstElement();
    const begin = first ? first.getBoundingClientRect().top : 0;
    if (this.scroller === null) return { top: -begin, height: this.#window.innerHeight };
    const box = this.scroller.getBoundingClientRect();
    return { top: box.top + this.scroller.clientTop - begin, height: this.scroller.clientHeight };
  }

  #firstElement(): Element | undefined {
    const first = this.entries[0];
    return first && this.elements.get(keyOfEntry(first));
  }

  /** Renders the rows near the viewport, and removes the others. */
  look(): void {
    const { heights, list } = this;
    const margin = list.options.margin ?? 400;
    const count = this.items.length;
    const { clientWidth } = this.scroller ?? this.anchor.ownerDocument!.documentElement;
    if (clientWidth !== this.width) this.heights.forget();
    this.width = clientWidth;
    // Measured heights move the rows below. Two rounds suffice, unless rows change while they are measured.
    for (let round = 0; round < 3; round++) {
      const isMeasured = this.#measureRows();
      const view = this.#measureView();
      const total = heights.total;
      const scale = Math.min(total, tallest);
      const reach = Math.max(0, scale - view.height);
      const delta = view.top - this.lastTop;
      if (total > tallest) {
        // A jump is scaled, a step is not.
        if (Math.abs(delta) > view.height * 1.5) this.shift = (view.top / reach) * (total - view.height) - view.top;
        if (view.top <= 0) this.shift = 0;
        else if (view.top >= reach - 1) this.shift = total - scale;
      } else this.shift = 0;
      this.lastTop = view.top;
      const top = Math.min(Math.max(0, view.top + this.shift), Math.max(0, total - view.height));
      const from = heights.indexAt(top - margin);
      const to = Math.min(count, heights.indexAt(top + view.height + margin) + 1);
      list.shown.set([heights.indexAt(top), Math.min(count, heights.indexAt(top + view.height) + 1)]);
      const entries = this.#entriesFor(from, to, scale);
      if (round > 0 && !isMeasured && sameEntries(entries, this.entries)) break;
      this.#showKeeping(entries);
    }
  }

  /** The rows of a range and the rows that must stay, with the spaces between. */
  #entriesFor(from: number, to: number, scale: number): Entry<T>[] {
    const { heights, items, shift } = this;
    const indexes = new Set<number>();
    for (let index = from; index < to; index++) indexes.add(index);
    for (const index of this.#held())
      for (let i = index - 1; i <= index + 1; i++) if (items[i] !== undefined) indexes.add(i);
    const entries: Entry<T>[] = [];
    let number = 0;
    let bottom = 0;
    const space = (height: number) => entries.push({ isGap: true, number: number++, height: Math.max(0, height) });
    for (const index of [...indexes].sort((a, b) => a - b)) {
      const y = Math.max(0, heights.top(index) - (index >= from ? shift : 0));
      // There is always a first space: it marks the start of the list.
      if (y > bottom + 0.01 || entries.length === 0) space(y - bottom);
      entries.push(this.#entry(items[index]!, index));
      bottom = Math.max(y, bottom) + heights.height(index);
    }
    space(scale - bottom);
    return entries;
  }

  /** Indexes of rows with focus or an end of the selection. */
  *#held(): Generator<number> {
    const root = this.anchor.getRootNode() as Document | ShadowRoot;
    const selection = (root as Document).getSelection?.() ?? this.anchor.ownerDocument!.getSelection();
    const nodes = [
      root.activeElement,
      ...(selection?.isCollapsed === false ? [selection.anchorNode, selection.focusNode] : []),
    ];
    for (const entry of this.entries) {
      if (entry.isGap) continue;
      const element = this.elements.get(entry.key);
      // Another list may have other keys at these positions.
      if (!nodes.some(node => isInside(element, node))) continue;
      const index = this.items[entry.index] === entry.item ? entry.index : this.items.indexOf(entry.item);
      if (index >= 0) yield index;
    }
  }

  #measureRows(): boolean {
    let isChanged = false;
    for (const entry of this.entries) {
      if (entry.isGap || this.items[entry.index] !== entry.item) continue;
      const element = this.elements.get(entry.key);
      const height = element?.getBoundingClientRect().height;
      if (height && this.heights.set(entry.index, entry.key, height)) isChanged = true;
    }
    return isChanged;
  }

  /** Renders entries and keeps the scroll position of visible rows: heights above were estimates. */
  #showKeeping(entries: readonly Entry<T>[]): void {
    const before = this.#seen();
    this.#show(entries);
    if (before === undefined) return;
    const moved = before.element.isConnected ? before.element.getBoundingClientRect().top - before.top : 0;
    if (Math.abs(moved) < 1) return;
    if (this.scroller) this.scroller.scrollTop += moved;
    else scrollBy({ top: moved, behavior: 'instant' });
    this.lastTop += moved;
  }

  /** The first visible row, and its position. */
  #seen(): { element: Element; top: number } | undefined {
    const edge = this.scroller ? this.scroller.getBoundingClientRect().top : 0;
    for (const entry of this.entries) {
      if (entry.isGap) continue;
      const element = this.elements.get(entry.key);
      const box = element?.getBoundingClientRect();
      if (box && box.bottom > edge && box.height > 0) return { element: element!, top: box.top };
    }
    return undefined;
  }

  #show(entries: readonly Entry<T>[]): void {
    this.entries = entries;
    const { anchor, owner, where } = this;
    const parent = anchor.parentNode as Element;
    const made = this.#rowMarkup(parent);
    this.rows = new Each<Entry<T>>(entries, keyOfEntry, made, true)[place](anchor, owner, this.rows, where);
    // The elements of the rows in order, backwards from the anchor.
    this.elements = new Map();
    let node: Node | null = anchor;
    for (const entry of [...entries].reverse()) {
      do node = node!.previousSibling;
      while (node && node.nodeType !== 1);
      if (!node) break;
      this.elements.set(keyOfEntry(entry), node as Element);
    }
    this.#announce(parent);
  }

  #made: RowMarkup<Entry<T>> | undefined;

  #rowMarkup(parent: Element): RowMarkup<Entry<T>> {
    return (this.#made ??= (entry => {
      if (entry().isGap) return piece(gapTemplate(parent), [() => (entry() as { height: number }).height]);
      const item = () => (entry() as { item: T }).item;
      return this.list.row(item, () => (entry() as { index: number }).index);
    }) as RowMarkup<Entry<T>>);
  }

  /** Exposes the number of rows and their positions to assistive technology (WAI-ARIA 1.2 §6.6). */
  #announce(parent: Element): void {
    const isTable = /^(?:tbody|table)$/.test(parent.localName);
    const count = String(this.items.length);
    if (isTable) parent.closest('table')!.setAttribute('aria-rowcount', count);
    for (const entry of this.entries) {
      if (entry.isGap) continue;
      const element = this.elements.get(entry.key);
      const position = String(entry.index + 1);
      element?.setAttribute(isTable ? 'aria-rowindex' : 'aria-posinset', position);
      if (!isTable) element?.setAttribute('aria-setsize', count);
    }
  }

  scrollTo(index: number): void {
    const { heights } = this;
    const target = Math.min(Math.max(0, index), this.items.length - 1);
    // Scrolling past rows measures them, so the target's position is computed again.
    for (let round = 0; round < 3; round++) {
      const view = this.#measureView();
      const y = Math.min(heights.top(target), Math.max(0, heights.total - view.height));
      const scale = Math.min(heights.total, tallest);
      if (heights.total > tallest) this.shift = y - (y / (heights.total - view.height)) * (scale - view.height);
      const by = y - this.shift - view.top;
      if (Math.abs(by) < 0.5) break;
      if (this.scroller) this.scroller.scrollTop += by;
      else scrollBy({ top: by, behavior: 'instant' });
      this.lastTop = this.#measureView().top;
      this.look();
    }
  }

  mark(stale: number, due: Member[]): void {
    this.expression.mark(stale, due);
    this.rows?.mark?.(stale, due);
  }

  dispose(): void {
    this.expression.dispose();
    this.rows?.dispose();
  }

  remove(): void {
    this.dispose();
    this.rows?.remove();
  }
}

/** The keys of spaces: symbols, since any text may be the key of a row. */
const gapKeys: symbol[] = [];
const keyOfEntry = <T>(entry: Entry<T>): unknown => (entry.isGap ? (gapKeys[entry.number] ??= Symbol()) : entry.key);

const sameEntries = <T>(a: readonly Entry<T>[], b: readonly Entry<T>[]): boolean =>
  a.length === b.length &&
  a.every((entry, i) => {
    const other = b[i]!;
    return entry.isGap
      ? other.isGap && Math.abs(entry.height - other.height) < 1
      : !other.isGap && entry.item === other.item && entry.index === other.index;
  });
