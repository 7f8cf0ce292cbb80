/** Static elements with hooks, internals or states use the same parts and lifecycle as other elements. */
import { type Holder, type Home, keyOf, state } from '../../signals/state.ts';
import { coreKey, type HasLife } from '../core-key.ts';
import { Life } from '../life.ts';
import type { Contract, Living, Member, Part, Plan } from '../plan.ts';

/** The callbacks of a static element, which update its view. */
export interface Callbacks {
  connectedCallback(): void;
  adoptedCallback(): void;
  attributeChangedCallback(
    name?: string,
    before?: string | null,
    after?: string | null,
    namespace?: string | null,
  ): void;
  disconnectedCallback?(): void;
}

interface LeanClass {
  readonly prototype: HTMLElement & Callbacks;
}

/** The name of a member and of its attribute. */
export type Named = readonly [name: string, attribute?: string, ...unknown[]];

/** The owner of what follows changes in a static element: its view, unless it has a life. */
export interface LeanHome extends Home, Holder {
  /** Follows changes of properties. */
  view?: Pick<Home, 'changed'>;
}

/** The parts of a static element. */
export interface Parts {
  /** Called once for its class. @param members those with attributes; it adds the others. */
  extend(Class: LeanClass, members: Named[]): void;
  /**
   * Called in its constructor, before its root exists.
   * @returns the holder of its values, if there is one already.
   */
  begin(host: HTMLElement, Class: { readonly prototype: object }): LeanHome | undefined;
}

class LeanLife extends Life implements LeanHome {
  readonly home = this;
  /** Whether anything has changed, the element knows. */
  readonly stale = 1;
  declare view?: Pick<Home, 'changed'>;
  readonly #show: () => void;

  constructor(host: HTMLElement, plan: Plan, show: () => void) {
    super(host, plan);
    this.#show = show;
  }

  override assemble(): void {
    this.#show.call(this.host);
  }

  override changed(bits: number): void {
    this.view?.changed(bits);
    this.form?.changed(bits);
    this.noted?.(bits);
  }

  override look(): void {
    if (this.shown) this.assemble();
  }

  override left(): void {
    state.graph?.leave(this);
  }
}

export function withParts(list: readonly Part<Living>[]): Parts {
  const parts = [...list].sort((a, b) => a.at - b.at);
  let members: readonly Member[];
  let plan: Plan | undefined;
  let show: () => void;
  return {
    extend(Class, names) {
      members = names.map(([name, attribute], index) => ({
        name,
        attribute,
        index,
        reflects: attribute !== undefined,
      }));
      const { prototype } = Class;
      const { adoptedCallback, attributeChangedCallback } = prototype;
      show = prototype.connectedCallback;
      const callbacks = {
        connectedCallback(this: HasLife) {
          this[coreKey].connect();
        },
        disconnectedCallback(this: HasLife) {
          this[coreKey].disconnect();
        },
        adoptedCallback(this: HasLife, from: Document, to: Document) {
          adoptedCallback.call(this);
          this[coreKey].adopt(from, to);
        },
        attributeChangedCallback(
          this: HasLife,
          ...change: Required<Parameters<Callbacks['attributeChangedCallback']>>
        ) {
          attributeChangedCallback.apply(this, change);
          const [name, before, after, namespace] = change;
          const core = this[coreKey];
          for (const member of members) {
            if (namespace || member.attribute !== name) continue;
            core.changed(1 << keyOf(member.index));
            core.run('attributeChanged', member, before, after);
          }
        },
      };
      for (const [name, value] of Object.entries(callbacks))
        Object.defineProperty(prototype, name, { value, writable: true, configurable: true });
      for (const part of parts) part.extend?.(Class);
    },
    begin(host, Class) {
      plan ??= { Class, contract: { tag: host.localName, members } satisfies Contract, styleSheets: [], parts };
      const life = new LeanLife(host, plan, show);
      (host as { [coreKey]?: Life })[coreKey] = life;
      life.run('construct');
      return life;
    },
  };
}
