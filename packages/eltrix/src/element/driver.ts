/** The driver of an element with a view: its lifecycle, and updates after changes of its properties. */
import { limit, reportCycle } from '../signals/cycle.ts';
import { dirty } from '../signals/flags.ts';
import { kindOf } from '../signals/kind-of.ts';
import { needGraph } from '../signals/least.ts';
import { report } from '../signals/report.ts';
import {
  keyOf,
  type Link,
  type Reaction,
  type Member as Reading,
  type Source,
  state,
  type Target,
  untracked,
} from '../signals/state.ts';
import { because, type StaleValue, trace } from '../signals/trace.ts';
import { build } from '../view/build.ts';
import { inList } from '../view/expression.ts';
import { isMarkup, type Markup } from '../view/piece.ts';
import { checkMarks, nextSent, takeOrMake, takingFrom } from '../view/taking-over.ts';
import { type Binding, markAll, rerunAll } from '../view/template.ts';
import { refuseHiddenProperties } from './author-checks.ts';
import type { BuiltSheet } from './built-sheet.ts';
import { nameFields } from './field-names.ts';
import { Life } from './life.ts';
import { mistake, viewFailed, warn } from './messages.ts';
import type { Core, LightSide, Member, SlotsSide } from './plan.ts';
import type { Sent } from './sent.ts';
import { removeLateRoot, removeSentStyles, sentView, takeSent } from './sent-view.ts';
import { checkSlotsSoon } from './slots.ts';

export class Driver extends Life implements Core, Reaction {
  stale = 0;
  flags = 0;
  readonly bindings: (Binding | undefined)[] = [];
  readonly home: this = this;
  root: ShadowRoot | HTMLElement | undefined = undefined;

  // State that only some elements have.
  declare values?: unknown[];
  declare outside?: Set<Target> | undefined;
  declare held?: (Source | undefined)[] | undefined;
  declare readonly sources: undefined;
  declare readonly tail: undefined;
  declare light?: LightSide;
  declare slots?: SlotsSide;
  declare filled?: ReadonlySet<string>;
  declare registry?: CustomElementRegistry | undefined;
  declare looksAtAll?: boolean;
  declare sent?: Sent | undefined;
  declare nameOf?: (key: number) => string;

  get document(): Document {
    return this.host.ownerDocument;
  }

  placed(node: Node): void {
    this.light?.placed(node);
  }

  // Lifecycle, in the order of the moments.

  construct(): void {
    const { host, plan } = this;
    needGraph();
    // A server cannot attach a root.
    if (__RENDERED__ && !('attachShadow' in host)) return;
    this.run('construct');
    this.root ??= this.openRoot({ mode: 'open' });
    if (__RENDERED__) {
      if (sentView(this.root)) this.sent = takeSent(this.root);
      else removeLateRoot(host);
    }
    for (const member of plan.contract.members) {
      const { name } = member;
      if (Object.hasOwn(host, name)) this.#takeOver(member);
      else if (__RENDERED__ && name in (this.sent?.properties ?? {}))
        (host as unknown as Record<string, unknown>)[name] = this.sent!.properties![name];
    }
  }

  /** Uses a root that exists already (declarative, or cloned). */
  openRoot(init: ShadowRootInit): ShadowRoot {
    const { host } = this;
    try {
      return host.shadowRoot ?? host.attachShadow(init);
    } catch (error) {
      // A closed root can only be reached through the internals.
      const { shadowRoot } = this.getInternals();
      if (shadowRoot === null) throw error;
      return shadowRoot;
    }
  }

  /** Assigns a property that was set before the upgrade (HTML §4.13.1.1). */
  #takeOver({ name, takenOver }: Member): void {
    const host = this.host as unknown as Record<string, unknown>;
    const value = host[name];
    delete host[name];
    try {
      host[name] = value;
      takenOver?.(this);
    } catch (error) {
      report(error, this.host);
    }
  }

  attributeChanged(member: Member, before: string | null, after: string | null): void {
    member.attributeChanged?.(this);
    this.wrote(member.index);
    this.run('attributeChanged', member, before, after);
  }

  override update(): void {
    this.light?.update();
    this.looksAtAll = true;
    this.react();
    this.looksAtAll = false;
  }

  override assemble(): void {
    if (__DEV__) nameFields(this.host);
    const ended = __DEV__ ? trace({ kind: 'view', host: this.host }) : undefined;
    this.#assemble();
    if (__DEV__) ended!();
  }

  /** Creates the view for the first time, with its style sheets. */
  #assemble(): void {
    const { host, root, light } = this;
    if (__DEV__)
      refuseHiddenProperties(
        host,
        this.plan.contract.members.map(({ name }) => name),
      );
    this.adoptSheets();
    const isView = 'view' in host;
    const sent = __RENDERED__ ? sentView(root!) : undefined;
    if (__RENDERED__ && sent) removeSentStyles(sent);
    if (light !== undefined) {
      if (isView) light.begin(!!sent);
    }
    // The content of a declarative or cloned root comes from a view.
    else if (!sent && root!.firstChild !== null) root!.replaceChildren();
    this.stale = 0;
    try {
      if (isView) {
        const piece = this.#readView();
        if (piece && !isMarkup(piece))
          throw __DEV__
            ? mistake('TypeError', 'view-result', host.localName, viewAdvice(host, piece))
            : new TypeError('view-result');
        const make = () => {
          // The element may be connected while a list of another element is created.
          const node = inList(undefined, () => untracked(() => build(piece as Markup, this, false, this.bindings)));
          if (node) root!.appendChild(node);
        };
        if (piece && sent) takeView(this, sent, make);
        else if (piece && __RENDERED__) takingFrom(undefined, make);
        else if (piece) make();
      }
      // An element without a view shows its content.
      else if (light === undefined && !sent) root!.appendChild(this.document.createElement('slot'));
    } catch (error) {
      report(error, host, host);
    }
    light?.update();
    if (__DEV__) checkSlotsSoon(this);
  }

  remake(): void {
    for (const binding of this.bindings.splice(0)) binding?.dispose();
    this.assemble();
  }

  override adoptSheets(): void {
    const { parts, styleSheets } = this.plan;
    // A document without a window shows nothing. When the element comes back to one, it is adopted again.
    if (!this.document.defaultView) return;
    const other = parts.find(part => part.adoptSheets);
    if (other) other.adoptSheets!(this);
    else
      (this.root as ShadowRoot).adoptedStyleSheets = (styleSheets as readonly BuiltSheet[]).map(sheet =>
        sheet.sheetFor(this.document),
      );
  }

  /** Removes links to sources outside, which would keep the disconnected element alive. */
  override left(): void {
    state.graph!.leave(this);
  }

  // Changes of properties.

  /** A property has another value. */
  wrote(index: number): void {
    const key = keyOf(index);
    this.changed(1 << key);
    state.graph!.wrote(this, key);
  }

  changed(bits: number): void {
    this.stale |= bits;
    this.form?.changed(bits);
    this.noted?.(bits);
    if (!this.shown || this.flags & dirty) return;
    state.graph!.enqueue(this);
    // Set after queueing: if queueing throws, the next change tries again.
    this.flags |= dirty;
  }

  /** Runs the bindings that depend on changed properties, until they change no more properties. */
  react(): void {
    let turns = 0;
    while (this.shown) {
      const due = this.look();
      if (this.stale === 0) break;
      if (++turns < limit) continue;
      this.stale = 0;
      reportCycle(due);
    }
    this.flags &= ~dirty;
  }

  look(): readonly Reading[] {
    const { stale } = this;
    this.stale = 0;
    const due: Reading[] = [];
    markAll(this.bindings, stale, due);
    if (__DEV__) because(this.#names(stale), () => rerunAll(due));
    else rerunAll(due);
    return due;
  }

  /** Development: the properties of a bit mask of keys. */
  #names(bits: number): StaleValue[] {
    return this.plan.contract.members
      .filter(({ index }) => bits & (1 << keyOf(index)))
      .map(({ name, index }) => ({ bit: 1 << keyOf(index), describe: () => `property "${name}"` }));
  }

  #readView(): unknown {
    const { host } = this;
    const view = () => {
      try {
        return (host as unknown as { view(): unknown }).view();
      } catch (error) {
        throw viewFailed(error, host);
      }
    };
    if (!__DEV__) return untracked(view);
    const watch: Reading = {
      flags: 0,
      mask: 0,
      sources: undefined,
      tail: undefined,
      home: this,
      react() {},
    };
    const piece = state.graph!.evaluate(watch, view);
    if ((watch.sources as Link | undefined) !== undefined) state.graph!.unlink(watch);
    const read = this.plan.contract.members.filter(({ index }) => watch.mask & (1 << index) && index === keyOf(index));
    for (const { name } of read) {
      warn(
        'fixed-reading',
        `<${host.localName}>: view() reads "${name}" outside a live expression, so it will not follow changes. ` +
          `Write \${() => this.${name}}, or untracked(() => this.${name}) for a fixed value.`,
      );
    }
    return piece;
  }
}

/** Adopts the view that a server has sent. */
function takeView(driver: Driver, open: ChildNode, make: () => void): void {
  const { root, light, bindings } = driver;
  const { answers } = driver.sent ?? {};
  state.requests = answers && { find: address => answers[address] };
  try {
    takeOrMake(
      open,
      undefined,
      () => {
        if (nextSent()) checkMarks(root!);
        make();
      },
      () => {
        for (const binding of bindings.splice(0)) binding?.dispose();
        if (light) light.begin(false);
        else root!.replaceChildren();
      },
      { home: driver },
    );
  } finally {
    // Also if the view throws.
    state.requests = driver.sent = undefined;
  }
  if (light && sentView(root!)) light.taken!();
}

function viewAdvice(host: HTMLElement, piece: unknown): string {
  return `<${host.localName}>: view() returned ${kindOf(piece)}. Return markup\`…\`, or nothing for an element without a view.`;
}

if (__DEV__) {
  Driver.prototype.nameOf = function (this: Driver, key) {
    const names = this.plan.contract.members.filter(({ index }) => keyOf(index) === key).map(({ name }) => `"${name}"`);
    return names.length > 0 ? `property ${names.join(' or ')}` : 'slotted content';
  };
}
