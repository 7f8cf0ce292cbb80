import {
  changed,
  check,
  dirty,
  evaluate,
  type Link,
  outside as readsOutside,
  state,
  type Target,
  track,
  unlink,
  untracked,
} from '../signals/graph.ts';
import { afterChange, type Reaction, update } from '../signals/queue.ts';
import { report } from '../signals/report.ts';
import { trace } from '../signals/trace.ts';
import { build } from '../view/build.ts';
import type { Owner } from '../view/hole.ts';
import { isMarkup, type Markup } from '../view/piece.ts';
import { refuseHiddenProperties } from './author-checks.ts';
import type { BuiltSheet } from './built-sheet.ts';
import { PropertyCell } from './cell.ts';
import { mistake, warn } from './messages.ts';
import { tellMoved } from './moved.ts';
import type { Member, Plan } from './plan.ts';
import type { ConnectionScope } from './scope.ts';
import { checkSlotsSoon } from './slots.ts';

/**
 * What the library knows of one element, and the least that an element does. Abilities add to it: each is a class made
 * from this one that does more at the same moments.
 */
export class Core implements Owner {
  readonly cells: (PropertyCell | undefined)[] = [];
  /** Whether it is in a document. */
  shown = false;
  root: ShadowRoot | HTMLElement | undefined = undefined;
  /** Whether its view has been made. */
  assembled = false;
  /** Effects that have to run when the element is shown again. */
  parked: Reaction[] | undefined = undefined;
  /** Effects that read something beyond this element. */
  outside: Set<Target> | undefined = undefined;
  internals: ElementInternals | undefined = undefined;
  /** Only for elements without a shadow root: they tell their own nodes from those of the page. */
  placed: ((node: Node) => void) | undefined = undefined;

  constructor(
    readonly host: HTMLElement,
    readonly plan: Plan,
  ) {}

  get document(): Document {
    return this.host.ownerDocument;
  }

  /** What `connected` is called with; an ability makes it. */
  makeScope?(): ConnectionScope;

  // Home, for the effects of the view.

  reachesOut(effect: Target): void {
    (this.outside ??= new Set()).add(effect);
  }

  forget(effect: Target): void {
    this.outside?.delete(effect);
  }

  park(effect: Target): void {
    (this.parked ??= []).push(effect as Reaction);
  }

  // Properties.

  cell(index: number): PropertyCell {
    return (this.cells[index] ??= new PropertyCell(this));
  }

  /** Notes a reading of a property, if anyone wants to know. */
  track(index: number): void {
    if (state.active !== undefined) track(this.cell(index));
  }

  getInternals(): ElementInternals {
    return (this.internals ??= this.host.attachInternals());
  }

  // The moments of its life, in their order.

  /** In the constructor: the root that the view goes into. One that is there already (declarative, or cloned) is used. */
  attachRoot(): void {
    const { host } = this;
    try {
      this.root = host.shadowRoot ?? host.attachShadow({ mode: 'open' });
    } catch (error) {
      // The page has a closed root already: only the internals lead to it.
      const { shadowRoot } = this.getInternals();
      if (shadowRoot === null) throw error;
      this.root = shadowRoot;
    }
  }

  /** In the constructor: a property that was set before the upgrade (HTML §4.13.1.1 tells why). */
  takeOver({ name }: Member): boolean {
    const host = this.host as unknown as Record<string, unknown>;
    const value = host[name];
    delete host[name];
    try {
      host[name] = value;
      return true;
    } catch (error) {
      report(error);
      return false;
    }
  }

  /** An observed attribute of this element changed (HTML §4.13.6). */
  attributeChanged(member: Member, _before: string | null, _after: string | null): void {
    const cell = this.cells[member.index];
    if (cell === undefined) return;
    changed(cell);
    afterChange();
  }

  connect(): void {
    // Something called on the way here may have connected it.
    if (this.shown) return;
    this.shown = true;
    if (__DEV__)
      trace({ kind: 'hook', host: this.host, name: this.assembled ? 'reconnected' : 'connected for the first time' });
    if (this.assembled) return this.catchUp();
    this.assembled = true;
    this.assemble();
  }

  /** For the first time: styles and view. */
  assemble(): void {
    const { host, root } = this;
    if (__DEV__)
      refuseHiddenProperties(
        host,
        this.plan.contract.members.map(({ name }) => name),
      );
    this.adoptSheets();
    // What a declarative or cloned root holds was a view's.
    if (root !== host && root!.firstChild !== null) root!.replaceChildren();
    try {
      if ('view' in host) {
        const piece = this.#readView();
        if (piece && !isMarkup(piece))
          throw mistake('TypeError', 'view-result', host.localName, __DEV__ ? viewAdvice(host, piece) : '');
        if (piece) root!.appendChild(untracked(() => build(piece as Markup, this, false)));
      }
      // Without a view the element's content shows.
      else if (root !== host) root!.appendChild(this.document.createElement('slot'));
    } catch (error) {
      report(error);
    }
    if (__DEV__) checkSlotsSoon(this);
  }

  /** The sheets for the document that the element is in. */
  adoptSheets(): void {
    const sheets = this.plan.styleSheets as readonly BuiltSheet[];
    if (sheets.length > 0)
      (this.root as ShadowRoot).adoptedStyleSheets = sheets.map(sheet => sheet.sheetFor(this.document));
  }

  /** In a document again: current values are shown, before `connected` is called. */
  catchUp(): void {
    const late = this.parked ?? [];
    this.parked = undefined;
    // What changed in this very task waits in the queue still. Updating changes the lists that are gone through here.
    for (const cell of this.cells) {
      for (let link = cell?.targets; link; link = link.nextTarget)
        if (link.target.home === this && link.target.flags & (dirty | check)) late.push(link.target as Reaction);
    }
    for (const effect of late) update(effect);
  }

  disconnect(): void {
    if (__DEV__) trace({ kind: 'hook', host: this.host, name: 'left the document' });
    this.shown = false;
    this.letGo();
  }

  /** Nothing outside may keep a disconnected element alive: these links are given up, and made again later. */
  letGo(): void {
    for (const effect of this.outside ?? []) {
      unlink(effect);
      effect.flags = (effect.flags & ~readsOutside) | dirty;
      this.park(effect);
    }
    this.outside = undefined;
  }

  /** It was moved without being disconnected (DOM §4.2.6, moveBefore). */
  moved(): void {
    tellMoved(this.host);
  }

  adopted(_from: Document, _to: Document): void {
    if (this.assembled) this.adoptSheets();
  }

  #readView(): unknown {
    const { host } = this;
    const view = () => (host as unknown as { view(): unknown }).view();
    if (!__DEV__) return untracked(view);
    const watch: Target = { flags: 0, sources: undefined, tail: undefined, home: undefined };
    const piece = evaluate(watch, view);
    const read = new Set<string>();
    for (let link = watch.sources as Link | undefined; link; link = link.nextSource) {
      const index = this.cells.indexOf(link.source as PropertyCell);
      if (index >= 0) read.add(this.plan.contract.members[index]!.name);
    }
    unlink(watch);
    for (const name of read) {
      warn(
        'fixed-reading',
        `<${host.localName}>: view() reads "${name}" outside a live hole, so it will not follow changes. ` +
          `Write \${() => this.${name}}, or untracked(() => this.${name}) if it is meant to be fixed.`,
      );
    }
    return piece;
  }
}

function viewAdvice(host: HTMLElement, piece: unknown): string {
  return `<${host.localName}>: view() returned a ${typeof piece}. Return markup\`…\`, or nothing for an element without a view.`;
}
