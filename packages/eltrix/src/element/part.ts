/** The parts of a class. */
import type { Part } from './plan.ts';

/** The order in which parts are called at each moment. */
export const atRoot = 0;
export const atAttributes = 1;
export const atForm = 2;
export const atSlots = 3;
export const atScope = 4;
export const atHooks = 5;

const key: unique symbol = Symbol('parts') as never;

interface Parted {
  readonly prototype: object;
  [key]?: readonly Part[];
}

/** Adds parts to a class, and to classes that extend it. */
export function giveParts(Class: object, parts: readonly Part[]): void {
  const target = Class as Parted;
  const hasRoot = parts.some(({ isRoot }) => isRoot);
  const inherited = (target[key] ?? []).filter(({ isRoot }) => !(hasRoot && isRoot));
  target[key] = [...new Set([...inherited, ...parts])].sort((a, b) => a.at - b.at);
  for (const part of parts) part.extend?.(target);
}

/** Whether a class is an element of this copy of the library. */
export const isOfThisCopy = (Class: object): boolean => key in Class;

/** Adds parts to a class, if it is an element of this copy of the library. */
export function addParts(Class: object, parts: readonly Part[]): void {
  if (isOfThisCopy(Class)) giveParts(Class, parts);
}

/** The parts of a class and its parents, each once and in order. */
export const partsOf = (Class: Parted): readonly Part[] => Class[key] ?? [];

/** A part that only adds members to the prototype of its class, or to that of another one. */
export function members(descriptors: PropertyDescriptorMap, of?: { readonly prototype: object }): Part {
  return { at: atRoot, extend: Class => void Object.defineProperties((of ?? Class).prototype, descriptors) };
}
