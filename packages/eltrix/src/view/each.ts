import { kindOf } from '../signals/kind-of.ts';
import { report } from '../signals/report.ts';
import { type Holder, itemKey, type Member, positionKey, read, type Source, state } from '../signals/state.ts';
import { departing, nextStanding } from './departing.ts';
import { Disturbance } from './disturbance.ts';
import { currentList, inList, type ListReadings } from './expression.ts';
import { firstOther, longestIncreasing, sameAtEnd } from './list-differences.ts';
import { heldByFocus, move } from './moving.ts';
import { isMarkup, type Markup } from './piece.ts';
import { type Placeable, type Placed, place } from './placeable.ts';
import { row as rowOfList } from './sent-marks.ts';
import { isMark, nextSent, passTo, removeUntil } from './taking-over.ts';
import type { ExpressionPlace, Owner } from './template.ts';
import { rerunAll } from './template.ts';
import { fill, leaveEmpty, nodesOf, Standing } from './view.ts';
import { placed, whereIs } from './whereabouts.ts';

/**
 * Makes the markup of one row. `item()` and `index()` are tracked, so the row updates when its item or position
 * changes.
 */
export type RowMarkup<T> = (item: () => T, index: () => number) => Markup;

/**
 * A keyed list: a row is kept, and moved if necessary, as long as its key is in the list.
 *
 * @param items the items, or a function that returns them and is tracked; null and undefined show no row.
 * @param key the key of an item, compared by `Object.is`. Two items with one key show two rows, with a warning in
 *   development.
 * @param row makes a row's markup: once for each key, and again if an expression around the list runs again.
 * @example each(() => this.frames, frame => frame.id, frame => markup`<li>${() => frame().honey} kg</li>`)
 */
export function each<T>(
  items: Iterable<T> | (() => Iterable<T> | null | undefined),
  key: (item: T, index: number) => unknown,
  row: RowMarkup<T>,
): unknown {
  if (typeof items === 'function') return () => new Each(items() ?? [], key, row, true);
  return new Each(items, key, row);
}

export class Each<T> implements Placeable {
  readonly items: readonly T[];

  constructor(
    items: Iterable<T>,
    readonly key: (item: T, index: number) => unknown,
    readonly row: RowMarkup<T>,
    /** Whether later lists of the same expression have the same function. */
    readonly lasting = false,
  ) {
    // Reading a live array belongs to the expression's evaluation, so that changes inside the array are tracked.
    const live = state.live?.items(items) as readonly T[] | undefined;
    this.items = live ?? (Array.isArray(items) ? items : [...items]);
  }

  [place](
    anchor: ChildNode,
    owner: Owner,
    present: Placed | undefined,
    where: ExpressionPlace | undefined,
    renewable = false,
  ): Placed {
    const rows =
      present instanceof Rows && (present.make === this.row || present.renewable)
        ? (present as Rows<T>)
        : new Rows<T>(anchor, owner, this.row, where, renewable || !this.lasting);
    if (rows !== present) present?.remove();
    // A function created in each call would be collected with its compiled code.
    const { active } = state;
    state.active = undefined;
    try {
      rows.show(this.items, this.key, this.row);
    } finally {
      state.active = active;
    }
    return rows;
  }
}

/** One row: its item, its position and its bindings. All in one object, since there may be ten thousand rows. */
class Row<T> extends Standing implements Holder {
  held: (Source | undefined)[] | undefined = undefined;
  /** The index among the rows, if the row's markup reads it. */
  position = -1;
  /** While rows are arranged: the previous index, and the next row with the same key. */
  before = 0;
  twin: Row<T> | undefined = undefined;

  declare nameOf?: (key: number) => string;

  constructor(
    readonly home: Owner,
    readonly key: unknown,
    public item: T,
  ) {
    super();
  }

  /** Sets another item with the same key; adds the bindings that depend on the item to `due`. */
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

  /** Bindings of lists inside this row may depend on it as well. */
  changed(key: number, due: Member[]): void {
    this.mark(1 << key, due);
    state.graph!.wrote(this, key);
  }
}

if (__DEV__) {
  Row.prototype.nameOf = () => 'the item of its row';
}

/** Whether a row has this key; if so, the row gets the item. */
function stays<T>(row: Row<T>, key: unknown, item: T, due: Member[]): boolean {
  if (!Object.is(row.key, key)) return false;
  row.set(item, due);
  return true;
}

/** The number of rows from which it is cheaper to notice changes than to look for them. */
const many = 100;

class Rows<T> implements Placed {
  rows: Row<T>[] = [];
  /** The items of the rows. */
  items: T[] = [];
  readonly readings: ListReadings = { mask: 0, around: currentList() };
  readonly #disturbance = new Disturbance();
  /** Whether the rows stood in order before the anchor, without other nodes between them, when last looked at. */
  #inPlace = false;
  /** Whether no row has had custom elements, which may move nodes while they are inserted. */
  #isPlain = true;

  constructor(
    readonly anchor: ChildNode,
    readonly owner: Owner,
    public make: RowMarkup<T>,
    readonly where: ExpressionPlace | undefined,
    /** Whether another function may make the same rows, with other values. */
    readonly renewable: boolean,
  ) {}

  show(items: readonly T[], keyOf: (item: T, index: number) => unknown, make: RowMarkup<T>): void {
    const before = make === this.make ? undefined : new Set(this.rows);
    this.make = make;
    if (__DEV__) this.#warnOfDuplicates(items.map(keyOf));
    const due: Member[] = [];
    if (items.length === 0) this.clear();
    else {
      this.#look();
      if (!this.#inPlace) this.#followPage();
      this.#arrange(items, keyOf, due);
    }
    if (__RENDERED__ && nextSent()) {
      // Rows that a server sent and that are not in this list.
      removeUntil(nextSent(), this.anchor);
      passTo(this.anchor);
    }
    this.items = items.slice();
    const { rows } = this;
    if (make.length > 1) for (let i = 0; i < rows.length; i++) rows[i]!.move(i, due);
    if (before) for (let i = 0; i < rows.length; i++) if (before.has(rows[i]!)) rows[i] = this.#renew(rows[i]!, i);
    // Last: what another function makes replaces expressions that are due.
    rerunAll(due);
    if (this.#inPlace && this.#isPlain && rows.length > many) this.#disturbance.begin(this.anchor.parentNode!);
  }

  /** Shows what another function makes of a row. @returns the row, or another one if its template is another. */
  #renew(row: Row<T>, index: number): Row<T> {
    try {
      const piece: unknown = this.#call(row);
      if (isMarkup(piece) && piece.template() === row.template) {
        row.update(piece.values);
        return row;
      }
    } catch {
      // Reported below, where it is called again.
    }
    const next = row.last.nextSibling ?? this.anchor;
    row.remove();
    return this.#make(row.item, row.key, index, next);
  }

  #call(row: Row<T>): unknown {
    const { make } = this;
    const readItem = () => {
      read(row, itemKey);
      return row.item;
    };
    return make.length > 1 ? make(readItem, positionOf(row)) : make(readItem, none);
  }

  #arrange(items: readonly T[], keyOf: (item: T, index: number) => unknown, due: Member[]): void {
    const { rows, anchor, items: present } = this;
    const focused = heldByFocus(rows, anchor.parentNode!);
    // Unless keys depend on the position, the same item has the same key. So comparing items finds the unchanged rows
    // without calling `key` ten thousand times.
    const isPure = keyOf.length < 2;
    const most = Math.min(items.length, present.length);
    const from = isPure ? firstOther(present, items, 0, most) : 0;
    let start = from;
    const same = isPure ? sameAtEnd(present, items, most - start) : 0;
    let end = items.length - same;
    let oldEnd = rows.length - same;
    // All keys are read before anything changes: if a key function throws, the list stays as it was.
    const keys: unknown[] = [];
    for (let i = from; i < end; i++) keys.push(keyOf(items[i]!, i));
    // Rows at both ends that keep their position are updated in place, and so are two rows that have swapped.
    for (;;) {
      for (; start < end && start < oldEnd; start++) {
        if (isPure) start = firstOther(present, items, start, Math.min(end, oldEnd));
        if (start === end || start === oldEnd || !stays(rows[start]!, keys[start - from], items[start]!, due)) break;
      }
      while (start < end && start < oldEnd && stays(rows[oldEnd - 1]!, keys[end - 1 - from], items[end - 1]!, due)) {
        end--;
        oldEnd--;
      }
      if (end !== oldEnd || end - start < 2 || !this.#inPlace) break;
      const [first, last] = [rows[start]!, rows[end - 1]!];
      if (first === focused || last === focused) break;
      if (!Object.is(last.key, keys[start - from]) || !stays(first, keys[end - 1 - from], items[end - 1]!, due)) break;
      const after = last.last.nextSibling!;
      move(last, first.first);
      // The two rows have swapped in the list already.
      if (end - start > 2) move(first, after);
      rows[start] = last;
      rows[end - 1] = first;
      present[start] = last.item;
    }
    const known = new Map<unknown, Row<T>>();
    for (let i = oldEnd - 1; i >= start; i--) {
      const row = rows[i]!;
      row.before = i;
      row.twin = known.get(row.key);
      known.set(row.key, row);
    }
    const middle: (Row<T> | undefined)[] = [];
    for (let i = start; i < end; i++) {
      const key = keys[i - from];
      const row = known.get(key);
      middle.push(row);
      if (row?.twin) known.set(key, row.twin);
      else if (row) known.delete(key);
      row?.set(items[i]!, due);
    }
    if (known.size > 0 && !middle.some(Boolean) && oldEnd - start === rows.length) this.#empty();
    else
      for (let row of known.values()) {
        for (; ; row = row.twin) {
          row.remove();
          if (!row.twin) break;
        }
      }
    // Backwards, so that the row before which a row is inserted is in place already.
    const fixed = longestIncreasing(middle, focused);
    const parent = anchor.parentNode;
    // A row may have left the page while it was put back.
    const standing = (row: Row<T> | undefined) => (row?.first.parentNode === parent ? row?.first : undefined);
    let next: Node = anchor;
    for (let i = oldEnd; next === anchor && i < rows.length; i++) next = standing(rows[i]) ?? anchor;
    for (let i = middle.length - 1; i >= 0; i--) {
      let row = middle[i];
      if (row === undefined) {
        // New rows that follow each other are created in their order.
        let first = i;
        while (first > 0 && middle[first - 1] === undefined) first--;
        for (let k = first; k <= i; k++)
          middle[k] = this.#make(items[start + k]!, keys[start + k - from], start + k, next);
        i = first;
        row = middle[i]!;
      } else if (!fixed.has(i)) move(row, next);
      next = standing(row) ?? next;
    }
    if (middle.length < 1000) rows.splice(start, oldEnd - start, ...(middle as Row<T>[]));
    else this.rows = rows.slice(0, start).concat(middle as Row<T>[], rows.slice(oldEnd));
  }

  /** Other scripts may have moved rows, as drag libraries do. */
  #look(): void {
    if (this.#disturbance.end(this.anchor.parentNode) || !this.#inPlace) this.#inPlace = this.#inOrder();
  }

  #inOrder(): boolean {
    let next: Node = this.anchor;
    for (let i = this.rows.length - 1; i >= 0; i--) {
      const { first, last } = this.rows[i]!;
      if (last.nextSibling !== next && nextStanding(last) !== next) return false;
      next = first;
    }
    return true;
  }

  /** Puts the rows into their order on the page. Rows that have left the parent are put back, at the end. */
  #followPage(): void {
    const { anchor } = this;
    const parent = anchor.parentNode!;
    const byFirst = new Map<Node, Row<T>>(this.rows.map(row => [row.first, row]));
    // Rows at the end of the parent stand after the anchor.
    for (let row = byFirst.get(anchor.nextSibling!); row; row = byFirst.get(anchor.nextSibling!))
      row.last.after(anchor);
    this.rows = [];
    for (let node = parent.firstChild; node !== anchor; node = node!.nextSibling) {
      const row = byFirst.get(node!);
      if (row === undefined) continue;
      this.rows.push(row);
      byFirst.delete(node!);
    }
    for (const row of byFirst.values()) {
      for (const node of nodesOf(row)) parent.insertBefore(node, anchor);
      this.rows.push(row);
    }
    this.items = this.rows.map(({ item }) => item);
    this.#inPlace = this.#inOrder();
  }

  /** Creates and inserts a row. If its markup throws, the error is reported and the row stays empty. */
  #make(item: T, key: unknown, index: number, next: Node): Row<T> {
    const { owner } = this;
    const row = new Row(owner, key, item);
    row.position = index;
    // The mark before a row that a server sent belongs to the row and is removed with it.
    const from = __RENDERED__ ? nextSent() : undefined;
    const mark = __RENDERED__ && isMark(from, rowOfList) ? from : undefined;
    let node: Node | undefined;
    try {
      const piece = this.#call(row);
      if (!isMarkup(piece))
        throw new TypeError(
          __DEV__ ? `(row-markup): a row returned ${kindOf(piece)}. Return markup\`…\`.` : 'row-markup',
        );
      this.#isPlain &&= piece.template().inDocument;
      if (__RENDERED__ && from) passTo(mark?.nextSibling);
      node = inList(this.readings, () => fill(row, piece, owner, this.renewable));
      if (__RENDERED__ && mark) row.first = mark as ChildNode;
      else if (__RENDERED__) passTo(from);
    } catch (error) {
      if (__RENDERED__ && mark) throw error;
      report(placed(error, owner, this.where), owner.host, this.anchor);
      node = leaveEmpty(row, owner);
    }
    // One by one: faster than collecting them in a fragment.
    if (node) next.parentNode!.insertBefore(node, next);
    return row;
  }

  clear(): void {
    this.#look();
    if (this.rows.length > 0) this.#empty();
    this.rows = [];
  }

  /** Removes all rows; in one step if they are alone in their parent. */
  #empty(): void {
    const { anchor, rows } = this;
    if (!departing.begin && this.#inPlace && rows[0]!.first.previousSibling === null && anchor.nextSibling === null) {
      this.dispose();
      (anchor.parentNode as ParentNode & Node).replaceChildren(anchor);
    } else for (const row of rows) row.remove();
  }

  mark(stale: number, due: Member[]): void {
    if (stale & this.readings.mask || this.owner.looksAtAll) for (const row of this.rows) row.mark(stale, due);
  }

  dispose(): void {
    this.#disturbance.end(null);
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
          'Both rows are shown, but they cannot be distinguished when they move. Give each() a unique key.',
      );
      return;
    }
  }
}

const positionOf = (row: Row<unknown>) => () => {
  read(row, positionKey);
  return row.position;
};

/** For markup that does not read the index. */
const none = () => -1;
