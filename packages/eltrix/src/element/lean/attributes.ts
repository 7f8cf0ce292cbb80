/** Static elements whose only hook is `attributeChanged`, which needs no lifecycle. */
import { attributePart } from '../attribute-hook.ts';
import type { Hooked } from '../plan.ts';
import { type Ability, type AttributeChange, membersOf } from './ability.ts';

const cores = new WeakMap<object, Hooked>();

export function withAttributes(): Ability {
  let members: ReturnType<typeof membersOf>;
  let plan: Hooked['plan'] | undefined;
  return {
    extend(Class, names) {
      members = membersOf(names);
      return class extends Class {
        override connectedCallback() {
          if (this.isConnected) attributePart.prepare(cores.get(this)!);
          super.connectedCallback();
        }

        override attributeChangedCallback(...change: AttributeChange) {
          super.attributeChangedCallback(...change);
          const [attribute, before, after, namespace] = change;
          // A subclass may observe further attributes.
          for (const member of members)
            if (!namespace && member.attribute === attribute)
              attributePart.attributeChanged(cores.get(this)!, member, before, after);
        }
      };
    },
    begin(host, Class) {
      // Another class, if the page extends it.
      if (plan?.Class !== Class) plan = { Class, contract: { tag: host.localName, members } };
      const core = { host, plan };
      cores.set(host, core);
      attributePart.construct(core);
      return undefined;
    },
  };
}
