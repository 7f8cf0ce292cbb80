import {
  dirty,
  evaluate,
  type Link,
  outside as readsOutside,
  type Source,
  state,
  type Target,
  track,
  unlink,
  untracked,
} from '../signals/graph.ts';
import { type Reaction, report, updateNow } from '../signals/queue.ts';
import type { Owner } from '../view/hole.ts';
import { isMarkup } from '../view/piece.ts';
import { makeView, type View } from '../view/view.ts';
import { refuseHiddenProperties } from './author-checks.ts';
import type { FormSide } from './form.ts';
import type { LightRoot } from './light.ts';
import { mistake, warn } from './messages.ts';
import type { HookName, Plan } from './plan.ts';
import type { ConnectionScope } from './scope.ts';
import { checkSlotsSoon, type Slots } from './slots.ts';
import { adoptSheets } from './styles.ts';

/** What stands for one property of one element among the sources: an attribute's has nothing but its readers. */
export class PropertyCell implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  run = 0;

  constructor(readonly home: Core) {}
}

/** A cell that holds something beside the attribute. */
export class ValueCell extends PropertyCell {
  /** The value of a `data` or `live` property, and what `json` and `custom` read last. */
  value: unknown = undefined;
  /** The text that was assigned to a property that does not reflect; undefined: the attribute's text counts. */
  text: string | null | undefined = undefined;
  /** The text that `value` was read from, for kinds that remember; undefined: none yet. */
  known: string | null | undefined = undefined;
}

/** A method of the author's class, as the hooks are called. */
type Method = (this: object, ...args: unknown[]) => void;

/** What the library knows of one element. */
export class Core implements Owner {
  readonly cells: (PropertyCell | undefined)[];
  shown = false;
  root: ShadowRoot | HTMLElement | undefined = undefined;
  view: View | undefined = undefined;
  assembled = false;
  scope: ConnectionScope | undefined = undefined;
  internals: ElementInternals | undefined = undefined;
  /** The form side, if the element is form-associated. */
  form: FormSide | undefined = undefined;
  /** The element's own children as its root, if it has no shadow root. */
  light: LightRoot | undefined = undefined;
  slots: Slots | undefined = undefined;
  /** Effects that have to run when the element is shown again. */
  parked: Reaction[] | undefined = undefined;
  /** Effects that read something beyond this element. */
  outside: Set<Target> | undefined = undefined;
  /** Attributes written while the element was upgraded, for whom no callback has come yet. */
  early: Map<string, { readonly queued: boolean; readonly reflects: boolean }> | undefined = undefined;

  constructor(
    readonly host: HTMLElement,
    readonly plan: Plan,
  ) {
    this.cells = new Array(plan.members.length);
  }

  get document(): Document {
    return this.host.ownerDocument;
  }

  // Home, for the effects of the view.

  reachesOut(effect: Target): void {
    this.outside ??= new Set();
    this.outside.add(effect);
  }

  forget(effect: Target): void {
    this.outside?.delete(effect);
  }

  park(effect: Target): void {
    (this.parked ??= []).push(effect as Reaction);
  }

  // Cells.

  cell(index: number): PropertyCell {
    return (this.cells[index] ??= new PropertyCell(this));
  }

  valueCell(index: number): ValueCell {
    return (this.cells[index] ??= new ValueCell(this)) as ValueCell;
  }

  /** Notes a reading of a property, if anyone wants to know. */
  track(index: number): void {
    if (state.active !== undefined) track(this.cell(index));
  }

  getInternals(): ElementInternals {
    return (this.internals ??= this.host.attachInternals());
  }

  /** Only for elements without a shadow root: they tell their own nodes from those of the page. */
  placed: ((node: Node) => void) | undefined = undefined;

  // Life.

  connect(): void {
    if (this.shown) return;
    this.shown = true;
    this.form?.refresh();
    this.light?.connect();
    if (!this.assembled) this.#assemble();
    else {
      this.light?.update();
      this.#catchUp();
    }
    const { abilities, hooks } = this.plan;
    if (hooks.connected.length > 0) {
      this.scope = abilities.scope?.(this);
      this.call('connected', this.scope);
    }
  }

  /** Shows current values, before `connected` is called. */
  #catchUp(): void {
    const late = new Set(this.parked);
    this.parked = undefined;
    // What changed in this very task waits in the queue still.
    for (const cell of this.cells) {
      for (let link = cell?.targets; link; link = link.nextTarget)
        if (link.target.home === this) late.add(link.target as Reaction);
    }
    for (const effect of late) updateNow(effect);
  }

  disconnect(): void {
    if (!this.shown) return;
    this.shown = false;
    const { outside, scope } = this;
    if (outside !== undefined && outside.size > 0) {
      // Nothing outside may keep a disconnected element alive: these links are given up, and made again later.
      for (const effect of outside) {
        unlink(effect);
        effect.flags = (effect.flags & ~readsOutside) | dirty;
        this.park(effect);
      }
      outside.clear();
    }
    this.light?.disconnect();
    this.scope = undefined;
    scope?.end();
    this.call('disconnected');
  }

  #assemble(): void {
    const { host, plan, root } = this;
    this.assembled = true;
    if (__DEV__)
      refuseHiddenProperties(
        host,
        plan.members.map(({ name }) => name),
      );
    if (root instanceof ShadowRoot) {
      adoptSheets(root, plan.styleSheets);
      if (root.firstChild !== null) root.replaceChildren();
    }
    this.light?.begin();
    if ('view' in host && root !== undefined) {
      try {
        const piece = this.#readView();
        if (piece !== null && piece !== undefined) {
          if (!isMarkup(piece))
            throw mistake('TypeError', 'view-result', host.localName, __DEV__ ? viewAdvice(host, piece) : '');
          const view = untracked(() => makeView(piece, this, false));
          this.view = view;
          root.appendChild(view.node);
        }
      } catch (error) {
        report(error);
      }
    }
    this.light?.update();
    this.slots?.changed();
    this.form?.again();
    this.call('assembled');
    if (__DEV__) checkSlotsSoon(this);
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
      if (index >= 0) read.add(this.plan.members[index]!.name);
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

  /** Calls a hook of every class in the chain, parents first. An error is reported and the rest goes on. */
  call(name: HookName, ...args: unknown[]): void {
    for (const prototype of this.plan.hooks[name]) {
      try {
        untracked(() => (prototype as Record<HookName, Method>)[name].apply(this.host, args));
      } catch (error) {
        report(error);
      }
    }
  }
}

function viewAdvice(host: HTMLElement, piece: unknown): string {
  return `<${host.localName}>: view() returned a ${typeof piece}. Return markup\`…\`, or nothing for an element without a view.`;
}
