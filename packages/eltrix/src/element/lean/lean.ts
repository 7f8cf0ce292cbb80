/**
 * Static elements ("lean" in code): their views show only properties of the element. A change of any property evaluates
 * all expressions. Attributes need no dependency tracking. Only production builds contain such elements.
 */
import type { Rule } from '../../contract/index.ts';
import { limit } from '../../signals/cycle.ts';
import { dirty } from '../../signals/flags.ts';
import { type Holder, type Reaction, state } from '../../signals/state.ts';
import { BuiltSheet } from '../built-sheet.ts';
import { contractKey } from '../contract-key.ts';
import type { Contract } from '../plan.ts';
import type { Ability, LeanClass } from './ability.ts';
import { type Expression, evaluate, failed } from './expressions.ts';
import { nodesOf, prepare } from './prepare.ts';
import type { LeanSheet } from './sheets.ts';

/** Replaces HTMLElement where there is no DOM, so that modules can be imported. */
const Super = (globalThis as { HTMLElement?: typeof HTMLElement }).HTMLElement ?? (class {} as typeof HTMLElement);

/** The compiled `view()`: binds the nodes of a copy of the static part. */
interface View {
  view?(nodes: readonly Node[]): readonly (Expression | undefined)[];
}

type Sheet = string | LeanSheet;

interface Registry {
  get(name: string): { readonly [contractKey]?: Contract } | undefined;
  define(name: string, Class: CustomElementConstructor): void;
}

/**
 * The base class of a static element.
 *
 * @param surface the result of `fingerprint` for the contract.
 * @param rules by the property's name; both names with a space between, if the attribute has another name.
 * @param css its style sheet, or a list of them: the text of each, or a shared sheet.
 * @param html the static part of its view.
 * @param ability what else it has.
 */
export function lean(
  tag: string,
  surface: string,
  rules: Readonly<Record<string, Rule<unknown>>>,
  css: Sheet | readonly Sheet[],
  html: string,
  ability?: Ability,
): object {
  const members = Object.entries(rules).map(([key, rule], index) => {
    const [name, attribute = name] = key.split(' ') as [string, string?];
    return [name, attribute, rule, index] as const;
  });
  const sheets = ([] as Sheet[]).concat(css).map(sheet => (typeof sheet === 'string' ? new BuiltSheet(sheet) : sheet));
  let content: DocumentFragment | undefined;
  class Lean extends Super {
    static readonly observedAttributes = members.map(member => member[1]);
    static readonly [contractKey] = { surface };
    /** For other modules, which may list them, too. */
    static readonly styleSheets = sheets;

    /** `define` of `define.ts` without its messages. */
    static define(name = tag, registry = globalThis.customElements as Registry | undefined) {
      // The same surface: this class, or another copy of it.
      if (registry && registry.get(name)?.[contractKey]?.surface !== surface) registry.define(name, this);
      return this;
    }

    static {
      for (const [name, attribute, rule, index] of members) {
        Object.defineProperty(this.prototype, name, {
          // As in Web IDL (§3.7.6), an accessor called on another object throws first.
          get(this: Lean) {
            if (state.active) state.graph!.read((this.#holder ??= {} as Holder), index);
            else void this.#stale;
            return rule.read(this.getAttributeNS(null, attribute), this);
          },
          set(this: Lean, value) {
            void this.#stale;
            const text = rule.write(value);
            if (text === undefined) return;
            state.graph?.refuseInComputed();
            if (text === null) this.removeAttributeNS(null, attribute);
            else this.setAttributeNS(null, attribute, text);
          },
          enumerable: true,
          configurable: true,
        });
      }
    }

    /** Sources for other elements' dependencies, once there is one. */
    #holder: Holder | undefined;
    /** Undefined before the first connection. */
    #expressions: readonly (Expression | undefined)[] | undefined;
    /** Whether the expressions have to be evaluated. */
    #stale = true;
    /** Updates in a row that have changed what the view shows. */
    #turns = 0;

    constructor() {
      super();
      this.#holder = ability?.begin(this, new.target);
      this.shadowRoot ?? this.attachShadow({ mode: 'open' });
      const own = this as unknown as Record<string, unknown>;
      // Properties set before the upgrade (HTML §4.13.1.1).
      for (const [name] of members)
        if (Object.hasOwn(own, name)) {
          const value = own[name];
          delete own[name];
          try {
            own[name] = value;
          } catch (error) {
            failed(error, this);
          }
        }
    }

    connectedCallback(): void {
      if (!this.#expressions && this.isConnected) {
        let copy: DocumentFragment;
        this.#expressions = [
          () => {
            copy = document.importNode((content ??= prepare(html)), true);
            evaluate((this.#expressions = (this as unknown as View).view?.(nodesOf(copy)) ?? []), this);
          },
        ];
        this.#adoptSheet();
        this.#show();
        const root = this.shadowRoot!;
        // The content of a declarative or cloned root comes from a view.
        if (root.firstChild) root.replaceChildren();
        root.appendChild(copy!);
      }
      this.#show();
    }

    /** Subclasses call it. */
    disconnectedCallback(): void {}

    attributeChangedCallback(name?: string, _before?: unknown, _after?: unknown, namespace?: string | null): void {
      // Attributes of the same local name in other namespaces are reported too (DOM §4.9).
      if (namespace) return;
      if (this.#holder) state.graph?.wrote(this.#holder, Lean.observedAttributes.indexOf(name!));
      if (this.#stale) return;
      this.#stale = true;
      const react = () => this.#show();
      // Without dependencies: it is marked already.
      if (state.graph) state.graph.enqueue({ flags: dirty, react } as Reaction);
      else queueMicrotask(react);
    }

    adoptedCallback(): void {
      this.#adoptSheet();
    }

    #adoptSheet(): void {
      const { ownerDocument } = this;
      // A document without a window shows nothing.
      if (this.#expressions && ownerDocument.defaultView)
        this.shadowRoot!.adoptedStyleSheets = sheets.map(sheet => sheet.sheetFor(ownerDocument));
    }

    emit(type: string, detail: unknown = null): boolean {
      return this.dispatchEvent(new CustomEvent(type, { detail, bubbles: true, composed: true }));
    }

    /** Updates the view; a disconnected element is not updated. */
    #show(): void {
      if (!this.#stale || !this.isConnected) return;
      this.#stale = false;
      if (this.#turns++ > limit) failed(new Error('update-cycle'), this);
      else {
        // What the view reads is no dependency of an evaluation around it.
        const { active } = state;
        state.active = undefined;
        evaluate(this.#expressions!, this);
        state.active = active;
        // An element inside has changed what the view shows.
        if (this.#stale) return;
      }
      this.#turns = 0;
    }
  }
  return ability ? ability.extend(Lean as LeanClass, members) : Lean;
}
