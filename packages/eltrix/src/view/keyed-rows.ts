/** The rows of a keyed list: finds those that can stay, and moves as few as possible. */
import { departing, nextStanding } from './departing.ts';
import { Disturbance } from './disturbance.ts';
import { firstOther, longestIncreasing, sameAtEnd } from './list-differences.ts';
import { heldByFocus, move } from './moving.ts';
import { nodesOf, type Span } from './span.ts';

export type KeyOf<T> = (item: T, index: number) => unknown;

/** @typeParam D what is due after an item has changed. */
export interface KeyedRow<T, D> extends Span {
  readonly key: unknown;
  readonly item: T;
  /** Its elements, if it has other nodes beside one element. They stay as long as the row. */
  readonly elements: readonly Element[];
  /** While rows are arranged: the previous index, and the next row with the same key. */
  previousIndex: number;
  twin: this | undefined;
  /** Sets another item with the same key; adds what has to be brought up to date to `due`. */
  set(item: T, due: D[]): void;
  /** Disposes what follows changes; the nodes stay. */
  dispose(): void;
  /** Disposes it and removes its nodes. */
  remove(): void;
}

/** Whether a row has this key; if so, the row gets the item. */
function stays<T, D>(row: KeyedRow<T, D>, key: unknown, item: T, due: D[]): boolean {
  if (!Object.is(row.key, key)) return false;
  row.set(item, due);
  return true;
}

/** The elements of a row that is made from a copy of its template. */
export const elementsOf = (copy: Node): readonly Element[] =>
  copy.nodeType === 11 ? [...(copy as DocumentFragment).children] : [];

/** The number of rows from which it is cheaper to notice changes than to look for them. */
const many = 100;

export abstract class KeyedRows<T, D, R extends KeyedRow<T, D>> {
  rows: R[] = [];
  /** The items of the rows. */
  items: T[] = [];
  /** Whether the rows stood in order before the anchor, without other nodes between them, when last looked at. */
  #inPlace = false;
  readonly #disturbance = new Disturbance();
  /** Whether no row has had custom elements, which may move nodes while they are inserted. */
  protected isPlain = true;

  /** @param anchor the node before which the rows are. */
  constructor(readonly anchor: ChildNode) {}

  /** Creates a row and inserts it. */
  protected abstract make(item: T, key: unknown, index: number, next: Node): R;

  protected arrange(items: readonly T[], keyOf: KeyOf<T>, due: D[]): void {
    if (items.length === 0) this.clear();
    else {
      this.#look();
      this.#arrange(items, keyOf, due);
    }
    this.items = items.slice();
  }

  #arrange(items: readonly T[], keyOf: KeyOf<T>, due: D[]): void {
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
    const known = new Map<unknown, R>();
    for (let i = oldEnd - 1; i >= start; i--) {
      const row = rows[i]!;
      row.previousIndex = i;
      row.twin = known.get(row.key);
      known.set(row.key, row);
    }
    const middle: (R | undefined)[] = [];
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
    const standing = (row: R | undefined) => (row?.first.parentNode === parent ? row?.first : undefined);
    let next: Node = anchor;
    for (let i = oldEnd; next === anchor && i < rows.length; i++) next = standing(rows[i]) ?? anchor;
    for (let i = middle.length - 1; i >= 0; i--) {
      let row = middle[i];
      if (row === undefined) {
        // New rows that follow each other are created in their order.
        let first = i;
        while (first > 0 && middle[first - 1] === undefined) first--;
        for (let k = first; k <= i; k++)
          middle[k] = this.make(items[start + k]!, keys[start + k - from], start + k, next);
        i = first;
        row = middle[i]!;
      } else if (!fixed.has(i)) move(row, next);
      next = standing(row) ?? next;
    }
    if (middle.length < 1000) rows.splice(start, oldEnd - start, ...(middle as R[]));
    else this.rows = rows.slice(0, start).concat(middle as R[], rows.slice(oldEnd));
  }

  /** Other scripts may have moved rows, as drag libraries do. */
  #look(): void {
    if (!this.#disturbance.end(this.anchor.parentNode) && this.#inPlace) return;
    this.#inPlace = this.#inOrder();
    if (!this.#inPlace && this.anchor.parentNode) this.#followPage();
  }

  /** Called when all is shown: from now on changes are noticed. */
  protected rest(): void {
    if (this.#inPlace && this.isPlain && this.rows.length > many) this.#disturbance.begin(this.anchor.parentNode!);
  }

  #inOrder(): boolean {
    let next: Node = this.anchor;
    for (let i = this.rows.length - 1; i >= 0; i--) {
      const row = this.rows[i]!;
      const { first, last } = row;
      if ((last.nextSibling !== next && nextStanding(last) !== next) || !this.#isWhole(row)) return false;
      next = first;
    }
    return true;
  }

  /** Whether the nodes of a row stand together. @param others the rows by their first nodes. */
  #isWhole(row: R, others?: ReadonlyMap<Node, R>): boolean {
    const { first, last, elements } = row;
    if (first === last) return true;
    if (this.#lastOf(row, others) !== last) return false;
    const nodes = elements.length > 0 ? nodesOf(row) : [];
    return elements.every(element => nodes.includes(element));
  }

  /** The last node, from the first one on, before the anchor and before another row. */
  #lastOf({ first, last }: R, others?: ReadonlyMap<Node, R>): ChildNode {
    let node = first;
    for (let next = first.nextSibling; node !== last && next && next !== this.anchor && !others?.has(next); ) {
      node = next;
      next = node.nextSibling;
    }
    return node;
  }

  /** Puts the nodes of a row together: its elements are what others move. */
  #join(row: R, others: ReadonlyMap<Node, R>): void {
    const { first, last, elements } = row;
    const [main, ...more] = elements;
    let near = main ?? this.#lastOf(row, others);
    if (main && main.parentNode !== this.anchor.parentNode) first.after(main);
    else if (main && main !== first) main.before(first);
    for (const next of [...more, last]) {
      if (next !== near && near.nextSibling !== next) near.after(next);
      near = next;
    }
  }

  /** Puts the rows into their order on the page. Rows that have left the parent are put back, at the end. */
  #followPage(): void {
    const { anchor } = this;
    const parent = anchor.parentNode!;
    const byFirst = new Map<Node, R>(this.rows.map(row => [row.first, row]));
    for (const row of this.rows) if (!this.#isWhole(row, byFirst)) this.#join(row, byFirst);
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

  dispose(): void {
    this.#disturbance.end(null);
    for (const row of this.rows) row.dispose();
  }
}
