import type { OwnMember } from './accessors.ts';
import { contractKey } from './contract-key.ts';
import { define } from './define.ts';
import { addParts } from './part.ts';
import type { Contract, Member, Part } from './plan.ts';

/** Makes the class of a contract: accessors on its prototype, as Web IDL attributes are (§3.7.6). */
export function makeClass(
  contract: Omit<Contract, 'members'> & { members?: readonly Member[] },
  own: readonly OwnMember[],
  parts: readonly Part[],
  Base: object,
): object {
  const Class = class extends (Base as new () => HTMLElement) {
    static define(tag?: string, registry?: CustomElementRegistry) {
      define(this as never, tag, registry);
      return this;
    }
  };
  const parent = (Base as { [contractKey]?: Contract })[contractKey];
  const members = [...(parent?.members ?? [])];
  for (const { accessor, ...rest } of own) {
    const inherited = members.findIndex(({ name }) => name === rest.name);
    const member = { ...rest, index: inherited < 0 ? members.length : inherited };
    members[member.index] = member;
    Object.defineProperty(Class.prototype, rest.name, { ...accessor(member), enumerable: true, configurable: true });
  }
  contract.members = members;
  contract.parent = parent;
  contract.shadow ??= parent?.shadow;
  contract.extends ??= parent?.extends;
  Object.defineProperty(Class, contractKey, { value: contract });
  addParts(Class, parts);
  return Class;
}
