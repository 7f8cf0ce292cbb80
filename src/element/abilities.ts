/** What an element class can do beyond the least. A build gives a class only those that its source uses. */
import type { Core } from './core.ts';
import type { ConnectionScope } from './scope.ts';

export interface Abilities {
  /** Attaches the root that the view goes into. */
  readonly root?: (core: Core) => void;
  /** Gives a form-associated element its form side. */
  readonly form?: (core: Core) => void;
  /** Makes what `connected` is called with. */
  readonly scope?: (core: Core) => ConnectionScope;
  /** Members that the prototype gets. */
  readonly members?: PropertyDescriptorMap;
}

const key: unique symbol = Symbol('abilities') as never;

interface Able {
  readonly prototype: object;
  [key]?: Abilities;
}

/** Adds to what a class and those made from it can do. */
export function able(Class: object, ...given: readonly Abilities[]): void {
  const target = Class as Able;
  for (const { members, ...rest } of given) {
    Object.defineProperty(target, key, { value: { ...target[key], ...rest }, configurable: true });
    if (members) Object.defineProperties(target.prototype, members);
  }
}

export function abilitiesOf(Class: object): Abilities {
  return (Class as Able)[key] ?? {};
}
