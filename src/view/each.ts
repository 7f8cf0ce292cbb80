import { changed, state, track, untracked } from '../signals/graph.ts';
import { type Placeable, type Placed, place } from './content.ts';
import { type HolePlace, LocalSource, type Owner, whereIs } from './hole.ts';
import type { Markup } from './markup.ts';
import { makeView, type View } from './view.ts';

/** Makes the markup of one row. `item()` and `index()` are tracked readings, so a row follows what it shows. */
export type RowMarkup<T> = (item: () => T, index: () => number) => Markup;

/**
 * A list with one row a key: rows of keys that stay are kept and moved, never made again.
 *
 * @param items the items, or a function that is live and returns them; null and undefined show nothing.
 * @param key what identifies an item, compared by `Object.is`. Two items of one key both show; development says so.
 * @param row makes a row's markup, once a key.
 * @example each(() => this.frames, frame => frame.id, frame => markup`<li>${() => frame().honey} kg</li>`)
 */
export function each<T>(
  items: Iterable<T> | (() => Iterable<T> | null | undefined),
  key: (item: T, index: number) => unknown,
  row: RowMarkup<T>,
): unknown {
  if (typeof items === 'function') return () => new Each(items() ?? [], key, row);
  return new Each(items, key, row);
}

class Each<T> implements Placeable {
  readonly items: readonly T[];

  constructor(
    items: Iterable<T>,
    readonly key: (item: T, index: number) => unknown,
    readonly row: RowMarkup<T>,
  ) {
    // Reading the items is part of the live hole's evaluation, so that changes inside a live array are noticed.
    this.items = Array.isArray(items) && !state.active ? items : [...items];
  }

  [place](anchor: Text, owner: Owner, present: Placed | undefined, where: HolePlace | undefined): Placed {
    const rows =
      present instanceof Rows && present.make === this.row
        ? (present as Rows<T>)
        : new Rows<T>(anchor, owner, this.row, where);
    if (rows !== present) present?.remove();
    untracked(() => rows.show(this.items, this.key));
    return rows;
  }
}

/** One row: what it shows, and where it stands. */
class Row<T> {
  view!: View;
  position: LocalSource<number> | undefined = undefined;
  /** The index among the rows before this update; while reconciling only. */
  before = -1;

  constructor(
    readonly key: unknown,
    readonly item: LocalSource<T>,
  ) {}

  set(item: T, index: number): void {
    if (!Object.is(this.item.value, item)) {
      this.item.value = item;
      changed(this.item);
    }
    const { position } = this;
    if (position !== undefined && position.value !== index) {
      position.value = index;
      changed(position);
    }
  }
}

class Rows<T> implements Placed {
  rows: Row<T>[] = [];

  constructor(
    readonly anchor: Text,
    readonly owner: Owner,
    readonly make: RowMarkup<T>,
    readonly where: HolePlace | undefined,
  ) {}

  show(items: readonly T[], keyOf: (item: T, index: number) => unknown): void {
    const before = this.rows;
    const count = items.length;
    if (count === 0) return this.clear();
    const keys = items.map(keyOf);
    if (__DEV__) this.#warnOfDuplicates(keys);
    if (before.length === 0) {
      this.rows = this.#make(items, keys, 0, count, this.anchor);
      return;
    }
    const rows = new Array<Row<T>>(count);
    let start = 0;
    let end = count;
    let oldEnd = before.length;
    while (start < end && start < oldEnd && Object.is(before[start]!.key, keys[start])) {
      rows[start] = before[start]!;
      rows[start]!.set(items[start]!, start);
      start++;
    }
    while (end > start && oldEnd > start && Object.is(before[oldEnd - 1]!.key, keys[end - 1])) {
      rows[--end] = before[--oldEnd]!;
      rows[end]!.set(items[end]!, end);
    }
    if (start === oldEnd) {
      if (start < end) {
        const made = this.#make(items, keys, start, end, this.#nodeAt(rows, end, count));
        for (let i = 0; i < made.length; i++) rows[start + i] = made[i]!;
      }
    } else if (start === end) {
      for (let i = start; i < oldEnd; i++) before[i]!.view.remove();
    } else this.#reconcile(before, rows, items, keys, start, end, oldEnd);
    this.rows = rows;
  }

  /** The part between what stayed at the start and what stayed at the end. */
  #reconcile(
    before: Row<T>[],
    rows: Row<T>[],
    items: readonly T[],
    keys: unknown[],
    start: number,
    end: number,
    oldEnd: number,
  ): void {
    const known = new Map<unknown, Row<T> | Row<T>[]>();
    for (let i = start; i < oldEnd; i++) {
      const row = before[i]!;
      row.before = i;
      const same = known.get(row.key);
      if (same === undefined) known.set(row.key, row);
      else if (Array.isArray(same)) same.push(row);
      else known.set(row.key, [same, row]);
    }
    let kept = 0;
    let moved = false;
    let last = -1;
    for (let i = start; i < end; i++) {
      const found = known.get(keys[i]);
      if (found === undefined) continue;
      let row: Row<T>;
      if (Array.isArray(found)) {
        row = found.shift()!;
        if (found.length === 0) known.delete(keys[i]);
      } else {
        row = found;
        known.delete(keys[i]);
      }
      rows[i] = row;
      row.set(items[i]!, i);
      kept++;
      if (row.before < last) moved = true;
      else last = row.before;
    }
    if (kept === 0 && start === 0 && oldEnd === before.length) this.clear();
    else {
      for (const left of known.values()) {
        for (const row of Array.isArray(left) ? left : [left]) row.view.remove();
      }
    }
    // From the end on, so that what a row goes in front of stands already.
    const stays = moved ? longestIncreasing(rows, start, end) : undefined;
    let next: Node = this.#nodeAt(rows, end, rows.length);
    for (let i = end - 1; i >= start; i--) {
      const row = rows[i];
      if (row === undefined) {
        let from = i;
        while (from > start && rows[from - 1] === undefined) from--;
        const made = this.#make(items, keys, from, i + 1, next);
        for (let k = 0; k < made.length; k++) rows[from + k] = made[k]!;
        i = from;
      } else if (stays !== undefined && !stays.has(i)) moveBefore(row.view, next);
      next = rows[i]!.view.first;
    }
  }

  #nodeAt(rows: readonly Row<T>[], index: number, count: number): Node {
    return index < count ? rows[index]!.view.first : this.anchor;
  }

  /** Makes rows and puts them in together. */
  #make(items: readonly T[], keys: readonly unknown[], from: number, to: number, next: Node): Row<T>[] {
    const { owner, make } = this;
    const rows: Row<T>[] = [];
    const parent = next.parentNode!;
    const fragment = to - from > 1 ? owner.document.createDocumentFragment() : undefined;
    for (let i = from; i < to; i++) {
      const source = new LocalSource(owner, items[i]!);
      const row = new Row(keys[i], source);
      const item = () => {
        track(source);
        return source.value;
      };
      let piece: Markup;
      if (make.length < 2) piece = (make as (item: () => T) => Markup)(item);
      else {
        const position = new LocalSource(owner, i);
        row.position = position;
        piece = make(item, () => {
          track(position);
          return position.value;
        });
      }
      const { view, node } = makeView(piece, owner, false);
      row.view = view;
      rows.push(row);
      if (fragment === undefined) parent.insertBefore(node, next);
      else fragment.appendChild(node);
    }
    if (fragment !== undefined) parent.insertBefore(fragment, next);
    return rows;
  }

  clear(): void {
    const { rows, anchor } = this;
    if (rows.length === 0) return;
    this.rows = [];
    const first = rows[0]!.view.first;
    const parent = anchor.parentNode!;
    for (const row of rows) row.view.dispose();
    // Alone in their parent, they go in one step.
    if (first.previousSibling === null && anchor.nextSibling === null) (parent as ParentNode).replaceChildren(anchor);
    else {
      const range = anchor.ownerDocument.createRange();
      range.setStartBefore(first);
      range.setEndBefore(anchor);
      range.deleteContents();
    }
  }

  dispose(): void {
    for (const row of this.rows) row.view.dispose();
  }

  remove(): void {
    this.clear();
  }

  #warnOfDuplicates(keys: readonly unknown[]): void {
    const seen = new Set<unknown>();
    for (const key of keys) {
      if (!seen.has(key)) {
        seen.add(key);
        continue;
      }
      console.warn(
        `Warning (duplicate-key): ${whereIs(this.owner, this.where)}: two items have the key ${String(key).slice(0, 60)}. ` +
          'Both rows stand, in order; which is which is not known when they move. Give each() a key that no two items share.',
      );
      return;
    }
  }
}

interface Movable {
  moveBefore?(node: Node, child: Node | null): void;
}

/** Moves the nodes of a view, keeping focus, scroll and frames where the engine can (DOM §4.2.6, moveBefore). */
function moveBefore(view: View, next: Node): void {
  const parent = next.parentNode! as ParentNode & Node & Movable;
  let node: ChildNode | null = view.first;
  while (node !== null) {
    const following: ChildNode | null = node === view.last ? null : node.nextSibling;
    if (parent.moveBefore && parent.isConnected) parent.moveBefore(node, next);
    else parent.insertBefore(node, next);
    node = following;
  }
}

/**
 * The indexes of the rows that need not move: a longest increasing subsequence of where they stood before, found with
 * the patience method in O(n log n).
 */
function longestIncreasing(rows: readonly (Row<unknown> | undefined)[], start: number, end: number): Set<number> {
  const tails: number[] = [];
  const previous = new Map<number, number>();
  for (let i = start; i < end; i++) {
    const before = rows[i]?.before;
    if (before === undefined) continue;
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (rows[tails[middle]!]!.before < before) low = middle + 1;
      else high = middle;
    }
    if (low > 0) previous.set(i, tails[low - 1]!);
    tails[low] = i;
  }
  const stays = new Set<number>();
  for (let at = tails.at(-1); at !== undefined; at = previous.get(at)) stays.add(at);
  return stays;
}
