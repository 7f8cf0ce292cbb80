import type { OwnMember } from './accessors.ts';
import { contractKey } from './contract-key.ts';
import { define } from './define.ts';
import { mistake } from './messages.ts';
import { giveParts, isOfThisCopy } from './part.ts';
import type { Contract, Member, Part } from './plan.ts';

/**
 * What a class inherits from the class that it extends.
 * @throws TypeError for an element class of another copy of the library.
 */
export function inherit(contract: Omit<Contract, 'members'>, Base: object): readonly Member[] {
  const parent = (Base as { [contractKey]?: Contract })[contractKey];
  if (parent && !isOfThisCopy(Base))
    throw mistake(
      'TypeError',
      'parent-copy',
      contract.tag,
      `<${contract.tag}>: the class that it is made from is of another copy of Eltrix: it was built, or two versions are installed (\`npm ls eltrix\`). ` +
        'Import the module in which it is written, so that both are built together.',
    );
  contract.parent = parent;
  contract.shadow ??= parent?.shadow;
  contract.extends ??= parent?.extends;
  return parent?.members ?? [];
}

/** Creates the class of a contract, with accessors on its prototype as Web IDL attributes are (§3.7.6). */
export function makeClass(
  contract: Omit<Contract, 'members'> & { members?: readonly Member[] },
  own: readonly OwnMember[],
  parts: readonly Part[],
  Base: object,
  inherited: readonly Member[] = [],
): object {
  const Class = class extends (Base as new () => HTMLElement) {
    static define(tag?: string, registry?: CustomElementRegistry) {
      define(this as never, tag, registry);
      return this;
    }
  };
  const members = [...inherited];
  for (const { accessor, ...rest } of own) {
    const found = members.findIndex(({ name }) => name === rest.name);
    const member = { ...rest, index: found < 0 ? members.length : found };
    members[member.index] = member;
    Object.defineProperty(Class.prototype, rest.name, { ...accessor(member), enumerable: true, configurable: true });
  }
  contract.members = members;
  Object.defineProperty(Class, contractKey, { value: contract });
  giveParts(Class, parts);
  return Class;
}
