/** Static elements with hooks, internals or states use the same parts and lifecycle as other elements. */
import { keyOf, state } from '../../signals/state.ts';
import { coreKey } from '../core-key.ts';
import { Life } from '../life.ts';
import type { Living, Part, Plan } from '../plan.ts';
import { type Ability, type AttributeChange, type LeanHome, membersOf } from './ability.ts';

interface LeanPlan extends Plan {
  /** Creates or updates the view. */
  readonly show: () => void;
}

class LeanLife extends Life implements LeanHome {
  declare readonly plan: LeanPlan;
  readonly home = this;
  /** Whether anything has changed, the element knows. */
  readonly stale = 1;
  declare view?: LeanHome['view'];

  override assemble(): void {
    this.plan.show.call(this.host);
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

export function withParts(list: readonly Part<Living>[]): Ability {
  const parts = [...list].sort((a, b) => a.at - b.at);
  let members: ReturnType<typeof membersOf>;
  let plan: LeanPlan | undefined;
  let show: () => void;
  return {
    extend(Class, names) {
      members = membersOf(names);
      show = Class.prototype.connectedCallback;
      for (const part of parts) part.extend?.(Class);
      return class extends Class {
        declare [coreKey]: Life;

        override connectedCallback() {
          this[coreKey].connect();
        }

        override disconnectedCallback() {
          this[coreKey].disconnect();
        }

        override adoptedCallback(from: Document, to: Document) {
          super.adoptedCallback();
          this[coreKey].adopt(from, to);
        }

        override attributeChangedCallback(...change: AttributeChange) {
          super.attributeChangedCallback(...change);
          const [name, before, after, namespace] = change;
          const core = this[coreKey];
          for (const member of members) {
            if (namespace || member.attribute !== name) continue;
            core.changed(1 << keyOf(member.index));
            core.run('attributeChanged', member, before, after);
          }
        }
      };
    },
    begin(host, Class) {
      // Another class, if the page extends it.
      if (plan?.Class !== Class)
        plan = { Class, contract: { tag: host.localName, members }, styleSheets: [], parts, show };
      const life = new LeanLife(host, plan);
      (host as { [coreKey]?: Life })[coreKey] = life;
      life.run('construct');
      return life;
    },
  };
}
