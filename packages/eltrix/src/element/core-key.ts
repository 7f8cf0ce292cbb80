import type { Core } from './plan.ts';

/** Where an element keeps its core, for code of this layer. */
export const coreKey: unique symbol = Symbol('core') as never;

export interface HasCore extends HTMLElement {
  readonly [coreKey]: Core;
}
