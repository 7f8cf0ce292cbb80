/** A part of a view with a fallback for errors. */
import { coreKey, type HasCore } from '../element/core-key.ts';
import { parentAcross } from '../element/parent-across.ts';
import { check, dirty } from '../signals/flags.ts';
import { type Holder, type Member, read, state, untracked } from '../signals/state.ts';
import { ContentExpression } from '../view/content.ts';
import { departing } from '../view/departing.ts';
import { currentlyMaking, Expression, type Show } from '../view/expression.ts';
import { onServer, onServerError, type Placeable, type Placed, PlacedExpression, place } from '../view/placeable.ts';
import { closeOf, nextSent, passTo, takingFrom } from '../view/taking-over.ts';
import { type Binding, type ExpressionPlace, markAll, type Owner } from '../view/template.ts';
import { isHandled } from './errors.ts';

/** The fallback, given the error. `retry` renders the region's view again. */
export type Fallback = (error: unknown, retry: () => void) => unknown;

/**
 * A part of a view that fails on its own. An error in `view`, in a live expression inside, in a row, or in the view of an
 * element inside shows the fallback instead; the rest of the view goes on. Nested regions: the nearest one counts.
 * The view is rendered again when a value changes that the failed expression has read, or one around it.
 *
 * The error is passed to `handleErrors`, and written to the console if no handler there has dealt with it.
 *
 * @param view live: returns what can stand between tags.
 * @param fallback live: returns what to show instead.
 * @example
 * ${region(
 *   () => markup`<honey-chart ${{ harvest: () => this.harvest }}></honey-chart>`,
 *   (error, retry) => markup`<p>No chart. <button onclick=${retry}>Try again</button></p>`,
 * )}
 */
export function region(view: () => unknown, fallback: Fallback): unknown {
  return new Region(view, fallback);
}

class Region implements Placeable {
  constructor(
    readonly view: () => unknown,
    readonly fallback: Fallback,
  ) {}

  [place](anchor: ChildNode, owner: Owner, present: Placed | undefined, where: ExpressionPlace | undefined): Placed {
    const standing = present instanceof Standing ? present : new Standing(anchor, owner, where);
    untracked(() => standing.show(this));
    return standing;
  }

  [onServer](): unknown {
    return this.view();
  }

  [onServerError](error: unknown): unknown {
    return this.fallback(error, () => {});
  }
}

/** The start of each region. */
const beginnings = new WeakMap<Node, Standing>();

/** The region that is being rendered: its nodes may not be in the page yet. */
let filling: Standing | undefined;

/** The region around a node, across shadow roots; undefined for anything else. */
function around(node: object | undefined): Standing | undefined {
  for (let at = node as Node | undefined; at; at = parentAcross(at)) {
    for (let before: Node | null = at; before; before = before.previousSibling) {
      const region = beginnings.get(before);
      if (region && (region.last === at || at.compareDocumentPosition(region.last) & Node.DOCUMENT_POSITION_FOLLOWING))
        return region;
    }
  }
  return undefined;
}

/**
 * The region of a node. One that is being made is not in its place yet: then the region that is being rendered counts,
 * the expression that makes it, or its host.
 */
function regionOf(node: object, host: object | undefined): Standing | undefined {
  return around(node) ?? (filling?.expression.home.host === host ? filling : undefined) ?? aroundMaker(host) ?? filling;
}

/** The region around the expression that makes nodes of a view, else around its element. */
function aroundMaker(host: object | undefined): Standing | undefined {
  const making = currentlyMaking();
  return (making?.home.host === host ? around(making?.node) : undefined) ?? around(host);
}

/** Shows the fallback of the nearest region that does not show it already. */
function showFallback(error: unknown, host: object | undefined, at: object): boolean {
  let region = regionOf(at, host);
  while (region?.isFallback) region = region.outer;
  if (region === undefined) return false;
  if (!isHandled(error, host)) console.error(error);
  // The original error, without its description.
  const { code, cause } = (error ?? {}) as { code?: string; cause?: unknown };
  region.fail(code === 'hole-failed' || code === 'view-failed' ? cause : error, at as Node);
  return true;
}

/** The region's content, shown by its own expression. */
class RegionExpression extends ContentExpression {
  declare region: Standing;

  override react(): void {
    this.region.forgetLost();
    super.react();
  }

  override bring(value: unknown): void {
    const outer = filling;
    const { region } = this;
    filling = region;
    try {
      super.bring(value);
      if (region.hasFailed && !region.isFallback) {
        // An error while rendering: the fallback is shown at once, instead of what a server has sent.
        if (__RENDERED__) takingFrom(undefined, () => super.bring(value));
        else super.bring(value);
      }
    } finally {
      filling = outer;
    }
    // Not before the view reads them: a request without a reader ends, and would be sent again.
    if (!region.hasFailed) region.recovery.forget();
  }
}

/** Depends on what a failed part of a view has read, and renders the region's view again after a change. */
class Recovery extends Expression {
  declare region: Standing;

  override react(): void {
    this.region.retry();
  }

  /**
   * @param failed the node of the expression that failed.
   * @param content what the region still shows.
   */
  awaits(failed: Node, content: Placed | undefined): void {
    const { region, home } = this;
    this.read(() => {
      // Its function alone knows what a view has read that returned nothing.
      if (failed === region.last) region.tryView();
      // Outwards from the node: what the views of elements inside have read around it, then the view of the region.
      for (let at = failed; ; ) {
        const root = at.getRootNode();
        const isHere = root === region.last.getRootNode();
        const owner: ViewOwner | undefined = isHere ? home : ownerOf(parentAcross(root));
        const members: Member[] = [];
        if (isHere) content?.mark?.(~0, members);
        else markAll(owner?.bindings ?? [], ~0, members);
        for (const member of new Set<object>([...members, ...(owner?.outside ?? [])]))
          if (member instanceof Expression && isAround(member, at) && (!isHere || region.contains(member.node)))
            follow(member);
        const host = parentAcross(root);
        if (isHere || !host) break;
        at = host;
      }
    });
    this.noteInLists();
  }
}

/** Depends on what a member has read. */
function follow({ home, mask, sources }: Member): void {
  for (let link = sources; link !== undefined; link = link.nextSource) state.graph!.track(link.source);
  for (let key = 0; key < 32; key++) if ((mask >>> key) & 1) read(home as unknown as Holder, key);
}

/** The owner of an element's view. */
function ownerOf(host: Node | undefined): ViewOwner | undefined {
  return (host as Partial<HasCore> | undefined)?.[coreKey] as ViewOwner | undefined;
}

type ViewOwner = Owner & { readonly bindings?: readonly (Binding | undefined)[] };

/** Whether a node is, or is in, one of those from the first to the last. */
function isWithin(node: Node, first: Node, last: Node): boolean {
  const precedes = (one: Node, other: Node) => one.compareDocumentPosition(other) & Node.DOCUMENT_POSITION_FOLLOWING;
  return (node === first || !!precedes(first, node)) && !!precedes(node, last);
}

/**
 * Whether an expression is that of a node, or has placed it. Not more: an expression beside it may follow what the view
 * creates each time, as a promise, and the view would be rendered for ever.
 */
function isAround(expression: Expression, at: Node): boolean {
  if (expression.node === at) return true;
  // A region inside has shown its fallback, unless that has failed.
  if (expression instanceof RegionExpression) return false;
  return expression instanceof PlacedExpression && isWithin(at, expression.first, expression.anchor);
}

const showNothing: Show = () => {};

interface Failure {
  readonly error: unknown;
  /** The node of the expression that failed. */
  readonly at: Node;
  /** The expression that was being brought up to date, and its function. */
  readonly by: Expression | undefined;
  readonly fn: (() => unknown) | undefined;
}

class Standing implements Placed {
  readonly first: ChildNode;
  readonly last: ChildNode;
  /** The region of the same view that was being rendered when this one was made. */
  readonly #around: Standing | undefined;
  readonly expression: RegionExpression;
  readonly recovery: Recovery;
  /** Whether the fallback is shown, or is being rendered. */
  isFallback = false;
  /** What has failed since the view was last rendered. */
  #failures: readonly Failure[] = [];
  #view: () => unknown = () => {};

  constructor(
    readonly anchor: ChildNode,
    owner: Owner,
    where: ExpressionPlace | undefined,
  ) {
    if (filling?.expression.home === owner) this.#around = filling;
    const sent = __RENDERED__ ? nextSent() : undefined;
    if (sent) {
      this.first = sent as ChildNode;
      this.last = closeOf(sent);
      passTo(this.last.nextSibling);
    } else {
      const { document } = owner;
      anchor.before((this.first = document.createTextNode('')), (this.last = document.createTextNode('')));
      owner.placed(this.first);
      owner.placed(this.last);
    }
    beginnings.set(this.first, this);
    this.expression = new RegionExpression(owner, this.last);
    this.expression.region = this;
    this.expression.renewable = true;
    if (__DEV__) this.expression.place = where;
    this.recovery = new Recovery(owner, this.last, showNothing);
    this.recovery.region = this;
  }

  show({ view, fallback }: Region): void {
    if (this.hasFailed) this.#startAgain();
    this.#view = view;
    this.expression.set(() => {
      // What the view has read has changed as well: it may work now, and the fallback may not.
      if (this.isFallback && this.recovery.flags & (dirty | check)) this.#failures = [];
      const [first] = this.#failures;
      if (first && !this.isFallback) this.recovery.awaits(first.at, this.expression.content);
      this.isFallback = first !== undefined;
      return first ? fallback(first.error, this.retry) : view();
    });
  }

  /** Whether a node of the same tree is between its first and its last one. */
  contains(node: Node): boolean {
    return isWithin(node, this.first, this.last);
  }

  get outer(): Standing | undefined {
    if (this.#around) return this.#around;
    const { host } = this.expression.home;
    const outer = around(this.anchor) ?? aroundMaker(host);
    return outer === this ? around(host) : outer;
  }

  get hasFailed(): boolean {
    return this.#failures.length > 0;
  }

  /**
   * What has failed may be gone by now, as a row that was removed in the same change, or its expression may have got
   * another function.
   */
  forgetLost(): void {
    if (this.isFallback || !this.hasFailed) return;
    this.#failures = this.#failures.filter(({ at, by, fn }) => this.holds(at) && by?.fn === fn);
    if (!this.hasFailed) this.#startAgain();
  }

  /** All is rendered from the start, so that what still fails does so again. */
  #startAgain(): void {
    this.#failures = [];
    this.expression.clear();
  }

  /** Whether a node is in the region, or in the view of an element that is. What is leaving is not any more. */
  holds(node: Node): boolean {
    for (let at: Node | null = node; at; at = at.parentNode) if (departing.has?.(at)) return false;
    const root = node.getRootNode();
    if (root === this.last.getRootNode()) return node === this.last || this.contains(node);
    const host = parentAcross(root);
    return host !== undefined && this.holds(host);
  }

  /** Runs the view's function for what it reads. */
  tryView(): void {
    try {
      this.#view();
    } catch {
      // It was reported when it failed before.
    }
  }

  readonly retry = (): void => {
    if (!this.hasFailed) return;
    this.#failures = [];
    this.#look();
  };

  fail(error: unknown, at: Node): void {
    const isFirst = !this.hasFailed;
    const by = currentlyMaking();
    this.#failures = [...this.#failures.filter(one => one.at !== at), { error, at, by, fn: by?.fn }];
    if (isFirst && filling !== this) this.#look();
  }

  /** Updates the content, after the current update has ended. */
  #look(): void {
    const { expression } = this;
    const isQueued = expression.flags & (dirty | check);
    expression.flags |= dirty;
    if (!isQueued) state.graph!.enqueue(expression);
  }

  mark(stale: number, due: Member[]): void {
    this.recovery.mark(stale, due);
    this.expression.mark(stale, due);
  }

  dispose(): void {
    this.recovery.dispose();
    this.expression.dispose();
  }

  remove(): void {
    this.dispose();
    this.expression.clear();
    this.first.remove();
    this.last.remove();
  }
}

state.handle = (error, host, at) => (at !== undefined && showFallback(error, host, at)) || isHandled(error, host);
