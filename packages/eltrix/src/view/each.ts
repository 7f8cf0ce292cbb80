import { report } from '../signals/report.ts';
import { type Holder, itemKey, type Member, positionKey, read, type Source, state, wrote } from '../signals/state.ts';
import { type Placeable, type Placed, place } from './content.ts';
import { placed, whereIs } from './hole.ts';
import { firstOther, longestIncreasing, replaced, sameAtEnd } from './list-differences.ts';
import type { Markup } from './piece.ts';
import type { HolePlace, Owner } from './template.ts';
import { rerunAll } from './template.ts';
import { fill, leaveEmpty, nodesOf, Standing } from './view.ts';

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
    // Reading a live array is part of the hole's evaluation, so that changes inside it are noticed.
    const original = state.graph?.original;
    this.items = Array.isArray(items) && (original === undefined || original(items) === items) ? items : [...items];
  }

  [place](anchor: Text, owner: Owner, present: Placed | undefined, where: HolePlace | undefined): Placed {
    const rows =
      present instanceof Rows && present.make === this.row
        ? (present as Rows<T>)
        : new Rows<T>(anchor, owner, this.row, where);
    if (rows !== present) present?.remove();
    // A function made for each call would have engines drop what they compiled, whenever they collect it.
    const { active } = state;
    state.active = undefined;
    try {
      rows.show(this.items, this.key);
    } finally {
      state.active = active;
    }
    return rows;
  }
}

/** One row: its item, where it stands, and the bindings that show them. There may be ten thousand: all in one object. */
class Row<T> extends Standing implements Holder {
  readonly home: Owner;
  held: (Source | undefined)[] | undefined = undefined;
  readonly key: unknown;
  item: T;
  /** Its index among the rows, if the row's markup asks for it. */
  position = -1;
  /** The index among the rows before this update; while reconciling only. */
  before = -1;

  declare nameOf?: (key: number) => string;

  constructor(home: Owner, key: unknown, item: T) {
    super();
    this.home = home;
    this.key = key;
    this.item = item;
  }

  /** Another item of its key; `due` takes the bindings that show it. */
  set(item: T, due: Member[]): void {
    if (Object.is(this.item, item)) return;
    this.item = item;
    this.changed(itemKey, due);
  }

  move(index: number, due: Member[]): void {
    if (this.position === index) return;
    this.position = index;
    this.changed(positionKey, due);
  }

  /** Also lists inside this row may have read it. */
  changed(key: number, due: Member[]): void {
    this.mark(1 << key, due);
    wrote(this, key);
  }
}

if (__DEV__) {
  Row.prototype.nameOf = () => 'the item of its row';
}

/** Whether a row belongs to an item of a key, which it then takes. */
function stays<T>(row: Row<T>, key: unknown, item: T, due: Member[]): boolean {
  if (!Object.is(row.key, key)) return false;
  row.set(item, due);
  return true;
}

interface Range {
  readonly from: number;
  readonly to: number;
  readonly oldTo: number;
}

class Rows<T> implements Placed {
  rows: Row<T>[] = [];
  /** The items that the rows show, in a list of their own: comparing them need not visit ten thousand rows. */
  items: T[] = [];
  /** The keys of new items, from an index on; while they are shown only. */
  #keys: unknown[] = [];
  #keysFrom = 0;
  #next: readonly T[] = [];
  #keyOf: ((item: T, index: number) => unknown) | undefined;

  constructor(
    readonly anchor: Text,
    readonly owner: Owner,
    readonly make: RowMarkup<T>,
    readonly where: HolePlace | undefined,
  ) {}

  show(items: readonly T[], keyOf: (item: T, index: number) => unknown): void {
    const due: Member[] = [];
    this.#arrange(items, keyOf, due);
    rerunAll(due, this.owner);
  }

  #arrange(items: readonly T[], keyOf: (item: T, index: number) => unknown, due: Member[]): void {
    const count = items.length;
    if (__DEV__) this.#warnOfDuplicates(items.map(keyOf));
    if (count === 0) return this.clear();
    if (!this.#inOrder()) this.#followPage();
    const { rows: before, items: present, anchor } = this;
    // The same item has the same key, unless keys go by position.
    const pure = keyOf.length < 2;
    this.#tellKeys(items, keyOf, pure);
    if (before.length === 0) {
      this.rows = this.#make(items, 0, count, anchor);
      this.items = items.slice();
      return;
    }
    // What stays at both ends is brought up to date where it is, and so are two rows that changed places.
    let start = 0;
    let end = count;
    let oldEnd = before.length;
    for (;;) {
      for (; ; start++) {
        const most = Math.min(end, oldEnd);
        start = firstOther(present, items, start, most);
        if (start === most || !stays(before[start]!, this.#key(start), items[start]!, due)) break;
        present[start] = items[start]!;
      }
      for (; ; end--, oldEnd--) {
        const same = pure ? sameAtEnd(present, oldEnd, items, end, Math.min(end, oldEnd) - start) : 0;
        end -= same;
        oldEnd -= same;
        if (end === start || oldEnd === start) break;
        if (!stays(before[oldEnd - 1]!, this.#key(end - 1), items[end - 1]!, due)) break;
        present[oldEnd - 1] = items[end - 1]!;
      }
      if (end !== oldEnd || end - start < 2) break;
      const first = before[start]!;
      const last = before[end - 1]!;
      if (!Object.is(last.key, this.#key(start)) || !stays(first, this.#key(end - 1), items[end - 1]!, due)) break;
      const after = last.last.nextSibling!;
      const move = mover(anchor);
      move(last, first.first);
      // Neighbours have changed places by now.
      if (end - start > 2) move(first, after);
      before[start] = last;
      before[end - 1] = first;
      present[start] = last.item;
      present[end - 1] = first.item;
    }
    if (start === end) {
      // Nothing has come, and some may have gone.
      const gone = oldEnd - start;
      for (let i = start; i < oldEnd; i++) before[i]!.remove();
      if (gone > 0) {
        before.splice(start, gone);
        present.splice(start, gone);
      }
    } else {
      const middle = this.#middle(before, items, { from: start, to: end, oldTo: oldEnd }, due);
      this.rows = replaced(before, start, oldEnd, middle);
      this.items = replaced(present, start, oldEnd, items.slice(start, end));
    }
    if (this.rows[0]!.position >= 0) for (const [index, row] of this.rows.entries()) row.move(index, due);
  }

  /** Asks for all keys that are needed before anything is changed: if a key function throws, the list stays as it was. */
  #tellKeys(items: readonly T[], keyOf: (item: T, index: number) => unknown, pure: boolean): void {
    const { items: present } = this;
    const most = Math.min(items.length, present.length);
    const from = pure ? firstOther(present, items, 0, most) : 0;
    const to = items.length - (pure ? sameAtEnd(present, present.length, items, items.length, most - from) : 0);
    const keys = new Array<unknown>(Math.max(0, to - from));
    for (let i = from; i < to; i++) keys[i - from] = keyOf(items[i]!, i);
    this.#keys = keys;
    this.#keysFrom = from;
    this.#next = items;
    this.#keyOf = keyOf;
  }

  #key(index: number): unknown {
    const at = index - this.#keysFrom;
    // With the same key twice, a row may have gone to another item than its own.
    return at >= 0 && at < this.#keys.length ? this.#keys[at] : this.#keyOf!(this.#next[index]!, index);
  }

  /** Whether the rows stand one behind the other in front of the anchor. Others may have moved them, as drag libraries do. */
  #inOrder(): boolean {
    let next: Node = this.anchor;
    const parent = next.parentNode;
    for (let i = this.rows.length - 1; i >= 0; i--) {
      const { first, last } = this.rows[i]!;
      if (last.nextSibling !== next && !this.#onlyForeign(last, next)) return false;
      if (first.parentNode !== parent) return false;
      next = first;
    }
    return true;
  }

  /** Whether nothing stands between two siblings but nodes that are no row's: what others put between rows stays there. */
  #onlyForeign(from: Node, to: Node): boolean {
    const firsts = new Set<Node>(this.rows.map(({ first }) => first));
    let node = from.nextSibling;
    while (node !== null && node !== to && !firsts.has(node)) node = node.nextSibling;
    return node === to;
  }

  /** Takes the rows in the order in which they stand on the page; those that stand elsewhere come back, as the last. */
  #followPage(): void {
    const { anchor } = this;
    const parent = anchor.parentNode!;
    const byFirst = new Map<Node, Row<T>>(this.rows.map(row => [row.first, row]));
    // At the end of the parent they stand behind the anchor.
    for (let row = byFirst.get(anchor.nextSibling!); row; row = byFirst.get(anchor.nextSibling!))
      row.last.after(anchor);
    const rows: Row<T>[] = [];
    for (let node = parent.firstChild; node !== null && node !== anchor; node = node.nextSibling) {
      const row = byFirst.get(node);
      if (row === undefined) continue;
      rows.push(row);
      byFirst.delete(node);
    }
    for (const row of byFirst.values()) {
      for (const node of nodesOf(row)) parent.insertBefore(node, anchor);
      rows.push(row);
    }
    this.rows = rows;
    this.items = rows.map(({ item }) => item);
  }

  /** The rows for `items[from]` up to `items[to]`, made from those that stood from `from` up to `oldTo`. */
  #middle(before: readonly Row<T>[], items: readonly T[], range: Range, due: Member[]): Row<T>[] {
    const { from, to, oldTo } = range;
    const next = oldTo < before.length ? before[oldTo]!.first : this.anchor;
    if (from === oldTo) return this.#make(items, from, to, next);
    const rows = new Array<Row<T>>(to - from);
    this.#reconcile(before, rows, items, { ...range, next }, due);
    return rows;
  }

  /** What is left when both ends are done: rows are looked up by key, and as few as possible are moved. */
  #reconcile(
    before: readonly Row<T>[],
    rows: Row<T>[],
    items: readonly T[],
    range: Range & { next: Node },
    due: Member[],
  ): void {
    const { from, to, oldTo } = range;
    const known = new Map<unknown, Row<T> | Row<T>[]>();
    for (let i = from; i < oldTo; i++) {
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
    for (let i = from; i < to; i++) {
      const key = this.#key(i);
      const found = known.get(key);
      if (found === undefined) continue;
      let row: Row<T>;
      if (Array.isArray(found)) {
        row = found.shift()!;
        if (found.length === 0) known.delete(key);
      } else {
        row = found;
        known.delete(key);
      }
      rows[i - from] = row;
      kept++;
      if (row.before < last) moved = true;
      else last = row.before;
    }
    for (let i = from; i < to; i++) rows[i - from]?.set(items[i]!, due);
    if (kept === 0 && oldTo - from === before.length) {
      this.#empty(before);
    } else {
      for (const left of known.values()) {
        for (const row of Array.isArray(left) ? left : [left]) row.remove();
      }
    }
    // From the end on, so that what a row goes in front of stands already.
    const stays = moved ? longestIncreasing(rows) : undefined;
    const move = mover(this.anchor);
    let next = range.next;
    for (let i = rows.length - 1; i >= 0; i--) {
      const row = rows[i];
      if (row === undefined) {
        let first = i;
        while (first > 0 && rows[first - 1] === undefined) first--;
        const made = this.#make(items, first + from, i + from + 1, next);
        for (let k = 0; k < made.length; k++) rows[first + k] = made[k]!;
        i = first;
      } else if (stays !== undefined && !stays.has(i)) move(row, next);
      next = rows[i]!.first;
    }
  }

  /** Makes rows and puts them in, one after the other: that is faster than collecting them in a fragment. */
  #make(items: readonly T[], from: number, to: number, next: Node): Row<T>[] {
    const { owner } = this;
    const rows: Row<T>[] = [];
    const parent = next.parentNode!;
    for (let i = from; i < to; i++) {
      const row = new Row(owner, this.#key(i), items[i]!);
      const node = this.#fill(row, i);
      rows.push(row);
      parent.insertBefore(node, next);
    }
    return rows;
  }

  /** Makes the nodes of a row; one whose markup cannot be made is told of, and stands empty. */
  #fill(row: Row<T>, index: number): Node {
    const { owner, make } = this;
    const item = () => {
      read(row, itemKey);
      return row.item;
    };
    try {
      if (make.length < 2) return fill(row, (make as (item: () => T) => Markup)(item), owner, false);
      row.position = index;
      const at = () => {
        read(row, positionKey);
        return row.position;
      };
      return fill(row, make(item, at), owner, false);
    } catch (error) {
      report(placed(error, owner, this.where));
      return leaveEmpty(row, owner);
    }
  }

  clear(): void {
    const { rows } = this;
    if (rows.length > 0) this.#empty(rows);
    this.rows = [];
    this.items = [];
  }

  /** Takes all rows out. */
  #empty(rows: readonly Row<T>[]): void {
    const { anchor } = this;
    const first = rows[0]!.first;
    if (!this.#inOrder()) {
      for (const row of rows) row.remove();
      return;
    }
    for (const row of rows) row.dispose();
    // Alone in their parent, they go in one step.
    if (first.previousSibling === null && anchor.nextSibling === null)
      (anchor.parentNode as ParentNode & Node).replaceChildren(anchor);
    else {
      const range = anchor.ownerDocument.createRange();
      range.setStartBefore(first);
      range.setEndBefore(anchor);
      range.deleteContents();
    }
  }

  mark(stale: number, due: Member[]): void {
    for (const row of this.rows) row.mark(stale, due);
  }

  dispose(): void {
    for (const row of this.rows) row.dispose();
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
  moveBefore(node: Node, child: Node | null): void;
}

/** What moves the nodes of a row among its siblings, keeping focus, scroll and frames where the engine can (DOM §4.2.6, moveBefore). */
function mover({ parentNode }: Node): (row: Standing, next: Node) => void {
  const parent = parentNode as Node & Movable;
  const way = 'moveBefore' in parent && parent.isConnected ? 'moveBefore' : 'insertBefore';
  return (row, next) => {
    if (row.first === row.last) parent[way](row.first, next);
    else for (const node of nodesOf(row)) parent[way](node, next);
  };
}
