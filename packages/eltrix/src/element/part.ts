/** Where a class keeps what it can do beyond the least. */
import type { Part } from './plan.ts';

/** The order in which parts come at each moment of an element's life. */
export const order = { root: 0, attributes: 1, form: 2, slots: 3, scope: 4, hooks: 5 };

const key: unique symbol = Symbol('parts') as never;

interface Parted {
  readonly prototype: object;
  [key]?: readonly Part[];
}

/** Adds to what a class, and those made from it, can do. */
export function addParts(Class: object, parts: readonly Part[]): void {
  const target = Class as Parted;
  target[key] = [...(target[key] ?? []), ...parts];
  for (const part of parts) part.extend?.(target);
}

/** The parts of a class and those above it, each once and in order. */
export function partsOf(Class: Parted): readonly Part[] {
  return [...new Set(Class[key])].sort((a, b) => a.at - b.at);
}

/** A part that gives the prototype members, and nothing else. */
export function members(descriptors: PropertyDescriptorMap): Part {
  return { at: 0, extend: Class => void Object.defineProperties(Class.prototype, descriptors) };
}
