/** Keyed lists of static elements ("lean" in code). A row is one reaction of the graph. */
import { dirty, listening, stopped } from '../../signals/flags.ts';
import { foreignKey, type Home, type Member, slotsKey, state } from '../../signals/state.ts';
import { elementsOf, type KeyedRow, KeyedRows, type KeyOf } from '../../view/keyed-rows.ts';
import { nodesOf } from '../../view/span.ts';
import { type ViewReaction, viewOf } from './data.ts';
import { type Expression, evaluate } from './expressions.ts';
import { prepare } from './prepare.ts';

interface Template {
  readonly html: string;
  /** Whether it has custom elements. */
  readonly imported?: boolean;
  /** What is copied, made at the first use: its only element, or a fragment. */
  root?: Node;
}

/** What a row executes: statements that depend on the element, or also the others, or also those that run once. */
type Mode = 0 | 1 | 2;

type Expressions = readonly (Expression | undefined)[];

/** The compiled function of a row, with the row in place of the functions that read it: binds the nodes of a copy. */
type RowOf<T> = (item: LeanRow<T>, index: LeanRow<T>) => (root: Node) => Expressions;

const none: readonly never[] = [];

/** In the masks of lists: a row depends on something outside the element. */
const outside = 1 << foreignKey;

/** The list whose rows are being evaluated. */
let current: LeanRows<unknown> | undefined;

class LeanRow<T> implements Member, KeyedRow<T, LeanRow<T>> {
  readonly home: Home;
  flags = listening;
  mask = 0;
  sources: Member['sources'] = undefined;
  tail: Member['tail'] = undefined;
  previousIndex = 0;
  twin: this | undefined = undefined;
  expressions: Expressions = none;
  elements: readonly Element[] = none;
  declare first: ChildNode;
  declare last: ChildNode;

  constructor(
    readonly list: LeanRows<T>,
    readonly key: unknown,
    public item: T,
    public index: number,
  ) {
    this.home = list.view.home;
  }

  set(item: T, due: LeanRow<T>[]): void {
    if (Object.is(this.item, item)) return;
    this.item = item;
    due.push(this);
  }

  /** @param bind makes its expressions. */
  react(bind?: () => Expressions): void {
    const { list } = this;
    const outer = current;
    current = list as LeanRows<unknown>;
    this.mask = 0;
    try {
      state.graph!.evaluate(this, () => {
        if (bind) this.expressions = bind();
        for (let i = 0; i < this.expressions.length; i++) this.evaluate(i, bind ? 2 : 1);
      });
    } finally {
      current = outer;
      const mask = this.mask | (this.sources ? outside : 0);
      for (let at: LeanRows<unknown> | undefined = list as LeanRows<unknown>; at; at = at.around) at.mask |= mask;
    }
  }

  evaluate(index: number, mode: Mode): void {
    try {
      this.expressions[index]?.(mode);
    } catch (error) {
      reportFailed(error, this.list.view);
    }
  }

  dispose(): void {
    for (const expression of this.expressions) expression?.end?.();
    this.flags |= stopped;
    state.graph!.unlink(this);
    this.home.outside?.delete(this);
  }

  remove(): void {
    this.dispose();
    for (const node of nodesOf(this)) node.remove();
  }
}

class LeanRows<T> extends KeyedRows<T, LeanRow<T>, LeanRow<T>> {
  /** What the rows were made from. */
  #shown: unknown;
  /** The values of the element's properties when rows were last updated; those that were not yet made are missing. */
  #seen: readonly unknown[] = [];
  /** The properties of the element on which rows depend. */
  mask = 0;
  readonly around = current;

  constructor(
    anchor: ChildNode,
    readonly view: ViewReaction,
    readonly keyOf: KeyOf<T>,
    readonly rowOf: RowOf<T>,
    readonly template: Template,
    readonly own: readonly number[],
  ) {
    super(anchor);
    this.isPlain = !template.imported;
  }

  /** @returns the rows that show another item, or have another index. */
  show(given: Iterable<T>): readonly LeanRow<T>[] {
    const items = state.live?.items(given) ?? given;
    const due: LeanRow<T>[] = [];
    if (items === this.#shown) return due;
    this.#shown = items;
    const { active } = state;
    state.active = undefined;
    try {
      this.arrange((Array.isArray(items) ? items : [...(items as Iterable<T>)]) as T[], this.keyOf, due);
    } finally {
      state.active = active;
    }
    if (this.rowOf.length > 1)
      this.rows.forEach((row, index) => {
        if (row.index === index) return;
        row.index = index;
        due.push(row);
      });
    this.rest();
    return due;
  }

  /** Brings rows up to date. @param isStale whether a property of the element on which a row depends may have changed. */
  update(due: readonly LeanRow<T>[], isStale: boolean): void {
    const { rows, own } = this;
    for (let i = 0; i < due.length; i++) due[i]!.react();
    if (isStale || this.mask & outside)
      for (let i = 0; i < rows.length; i++) {
        const row = rows[i]!;
        // Without a whole graph, a row that depends on something outside is not marked.
        if (row.flags & dirty || row.mask & outside || (isStale && row.sources)) row.react();
        else if (isStale) for (let k = 0; k < own.length; k++) row.evaluate(own[k]!, 0);
      }
  }

  /** Whether a property of the element on which a row depends may have changed since it was last asked. */
  isStale(): boolean {
    const { values } = this.view;
    let isStale = values.length > slotsKey;
    // Those with attributes, which are not kept.
    let others = this.mask & ~outside;
    for (const [index, value] of values.entries())
      if (index in values && others & (1 << index)) {
        others &= ~(1 << index);
        isStale ||= !(index in this.#seen) || !Object.is(value, this.#seen[index]);
      }
    this.#seen = values.slice();
    return isStale || others !== 0;
  }

  protected override make(item: T, key: unknown, index: number, next: Node): LeanRow<T> {
    const { template, rowOf } = this;
    const row = new LeanRow(this, key, item, index);
    let node = document.importNode((template.root ??= rootOf(template.html)), true);
    row.elements = elementsOf(node);
    try {
      row.react(() => rowOf(row, row)(node));
    } catch (error) {
      reportFailed(error, this.view);
      node = document.createTextNode('');
    }
    const isFragment = node.nodeType === 11;
    row.first = (isFragment ? node.firstChild : node) as ChildNode;
    row.last = (isFragment ? node.lastChild : node) as ChildNode;
    next.parentNode!.insertBefore(node, next);
    return row;
  }
}

/** Reports the error of an expression. */
function reportFailed(error: unknown, { host }: ViewReaction): void {
  const expression = () => {
    throw error;
  };
  evaluate([expression], host);
}

function rootOf(html: string): Node {
  const content = prepare(html);
  return content.childNodes.length === 1 && content.firstElementChild ? content.firstElementChild : content;
}

/**
 * Shows a keyed list.
 * @param anchor a text node, before which the rows are inserted.
 * @param own the expressions of a row that depend on the element, by their indexes.
 */
export function leanList<T>(
  anchor: ChildNode,
  items: () => Iterable<T> | null | undefined,
  keyOf: KeyOf<T>,
  rowOf: RowOf<T>,
  template: Template,
  host: HTMLElement,
  own: readonly number[] = none,
): Expression {
  const rows = new LeanRows(anchor, viewOf(host), keyOf, rowOf, template, own);
  const show: Expression = () => {
    let due: readonly LeanRow<T>[] = none;
    const isStale = rows.isStale();
    try {
      due = rows.show(items() ?? none);
    } finally {
      // If the items cannot be read, the rows follow their own changes.
      rows.update(due, isStale);
    }
  };
  show.end = () => rows.clear();
  return show;
}
