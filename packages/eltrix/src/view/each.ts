import { kindOf } from '../signals/kind-of.ts';
import { report } from '../signals/report.ts';
import { type Holder, itemKey, type Member, positionKey, read, type Source, state } from '../signals/state.ts';
import { currentList, inList, type ListReadings } from './expression.ts';
import { elementsOf, type KeyedRow, KeyedRows, type KeyOf } from './keyed-rows.ts';
import { isMarkup, type Markup } from './piece.ts';
import { liveValue, type Placeable, type Placed, place } from './placeable.ts';
import { isMark, row as rowOfList } from './sent-marks.ts';
import { nextSent, passTo, removeUntil } from './taking-over.ts';
import type { ExpressionPlace, Owner } from './template.ts';
import { rerunAll } from './template.ts';
import { fill, leaveEmpty, Standing } from './view.ts';
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
  if (typeof items === 'function') return liveValue(() => new Each(items() ?? [], key, row, true));
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
      present instanceof Rows && (present.markup === this.row || present.renewable)
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
class Row<T> extends Standing implements Holder, KeyedRow<T, Member> {
  held: (Source | undefined)[] | undefined = undefined;
  /** The index among the rows, if the row's markup reads it. */
  position = -1;
  previousIndex = 0;
  twin: this | undefined = undefined;
  elements: readonly Element[] = none;

  declare nameOf?: (key: number) => string;

  constructor(
    readonly home: Owner,
    readonly key: unknown,
    public item: T,
  ) {
    super();
  }

  override copied(node: Node): void {
    this.elements = elementsOf(node);
  }

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

class Rows<T> extends KeyedRows<T, Member, Row<T>> implements Placed {
  readonly readings: ListReadings = { mask: 0, around: currentList() };

  constructor(
    anchor: ChildNode,
    readonly owner: Owner,
    public markup: RowMarkup<T>,
    readonly where: ExpressionPlace | undefined,
    /** Whether another function may make the same rows, with other values. */
    readonly renewable: boolean,
  ) {
    super(anchor);
  }

  get first(): Node | undefined {
    return this.rows[0]?.first;
  }

  show(items: readonly T[], keyOf: KeyOf<T>, markup: RowMarkup<T>): void {
    const before = markup === this.markup ? undefined : new Set(this.rows);
    this.markup = markup;
    if (__DEV__) this.#warnOfDuplicates(items.map(keyOf));
    const due: Member[] = [];
    this.arrange(items, keyOf, due);
    if (__RENDERED__ && nextSent()) {
      // Rows that a server sent and that are not in this list.
      removeUntil(nextSent(), this.anchor);
      passTo(this.anchor);
    }
    const { rows } = this;
    if (markup.length > 1) for (let i = 0; i < rows.length; i++) rows[i]!.move(i, due);
    if (before) for (let i = 0; i < rows.length; i++) if (before.has(rows[i]!)) rows[i] = this.#renew(rows[i]!, i);
    // Last: what another function makes replaces expressions that are due.
    rerunAll(due);
    this.rest();
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
    return this.make(row.item, row.key, index, next);
  }

  #call(row: Row<T>): unknown {
    const { markup } = this;
    const readItem = () => {
      read(row, itemKey);
      return row.item;
    };
    return markup.length > 1 ? markup(readItem, positionOf(row)) : markup(readItem, noIndex);
  }

  /** Creates and inserts a row. If its markup throws, the error is reported and the row stays empty. */
  protected override make(item: T, key: unknown, index: number, next: Node): Row<T> {
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
      this.isPlain &&= piece.template().inDocument;
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

  mark(stale: number, due: Member[]): void {
    if (stale & this.readings.mask || this.owner.looksAtAll) for (const row of this.rows) row.mark(stale, due);
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
const noIndex = () => -1;

const none: readonly never[] = [];
