import { type Ability, able } from './abilities.ts';
import { contractKey } from './contract-key.ts';
import { define } from './define.ts';
import type { Contract, Member } from './plan.ts';
import type { Accessor } from './reflect.ts';

/** A member that a class declares itself, and how its accessor is made. */
export interface OwnMember extends Omit<Member, 'index'> {
  accessor(member: Member): Accessor;
}

/** Makes the class of a contract: accessors on its prototype, as Web IDL attributes are (§3.7.6). */
export function makeClass(
  contract: Omit<Contract, 'members'> & { members?: readonly Member[] },
  own: readonly OwnMember[],
  abilities: readonly Ability[],
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
  able(Class, abilities);
  return Class;
}
