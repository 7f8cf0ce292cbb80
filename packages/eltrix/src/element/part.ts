/** Where a class keeps what it can do beyond the least. */
import { contractKey } from './contract-key.ts';
import type { Part } from './plan.ts';

/** The order in which parts come at each moment of an element's life. */
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

/** Adds to what a class, and those made from it, can do. Of a class that is no element nothing is known, and it stays. */
export function addParts(Class: object, parts: readonly Part[]): void {
  if (!(contractKey in Class)) return;
  const target = Class as object as Parted;
  target[key] = [...new Set([...(target[key] ?? []), ...parts])].sort((a, b) => a.at - b.at);
  for (const part of parts) part.extend?.(target);
}

/** The parts of a class and those above it, each once and in order. */
export const partsOf = (Class: Parted): readonly Part[] => Class[key] ?? [];

/** A part that gives the prototype members, and nothing else. */
export function members(descriptors: PropertyDescriptorMap): Part {
  return { at: atRoot, extend: Class => void Object.defineProperties(Class.prototype, descriptors) };
}
