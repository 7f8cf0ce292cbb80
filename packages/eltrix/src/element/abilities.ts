/**
 * What an element class can do beyond the least. A build gives a class only those abilities that its source uses; so
 * nothing here knows of any of them.
 */
import { Core } from './core.ts';

type CoreClass = typeof Core;

export interface Ability {
  /** Abilities are applied in this order: at each moment of an element's life those of lower rank come first. */
  readonly rank: number;
  /** Makes the core do more. */
  readonly core?: (Base: CoreClass) => CoreClass;
  /** Gives the class and its prototype more members. */
  extend?(Class: Able): void;
}

/** Where a class keeps its abilities, and those of its parents. */
const key: unique symbol = Symbol('abilities') as never;

interface Able {
  readonly prototype: object;
  [key]?: readonly Ability[];
}

/** Adds to what a class, and those made from it, can do. */
export function able(Class: object, abilities: readonly Ability[]): void {
  const target = Class as Able;
  target[key] = [...(target[key] ?? []), ...abilities];
  for (const ability of abilities) ability.extend?.(target);
}

/** The core of a class's elements. */
export function coreOf(Class: Able): CoreClass {
  return [...new Set(Class[key])]
    .sort((a, b) => a.rank - b.rank)
    .reduce<CoreClass>((made, { core }) => core?.(made) ?? made, Core);
}

/** An ability that gives the prototype members. */
export function members(descriptors: PropertyDescriptorMap): Ability {
  return { rank: 0, extend: Class => void Object.defineProperties(Class.prototype, descriptors) };
}
