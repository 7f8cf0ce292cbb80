import { define } from './define.ts';
import { type Contract, contractKey, type Member } from './plan.ts';
import type { Accessor } from './reflect.ts';

/** A member that a class declares itself, and how its accessor is made. */
export interface OwnMember extends Omit<Member, 'index'> {
  accessor(member: Member): Accessor;
}

/** Makes the class of a contract: accessors on its prototype, as Web IDL attributes are (§3.7.6). */
export function makeClass(
  contract: Omit<Contract, 'members'>,
  own: readonly OwnMember[],
  Base: object,
): { readonly prototype: object } {
  const Class = class extends (Base as new () => HTMLElement) {
    static define(tag?: string, registry?: CustomElementRegistry) {
      define(this as never, tag, registry);
      return this;
    }
  };
  const members = [...(contract.parent?.members ?? [])];
  for (const { accessor, ...rest } of own) {
    const inherited = members.findIndex(({ name }) => name === rest.name);
    const index = inherited < 0 ? members.length : inherited;
    const member = { ...rest, index };
    members[index] = member;
    Object.defineProperty(Class.prototype, rest.name, { ...accessor(member), enumerable: true, configurable: true });
  }
  Object.defineProperty(Class, contractKey, { value: { ...contract, members } satisfies Contract });
  return Class;
}
