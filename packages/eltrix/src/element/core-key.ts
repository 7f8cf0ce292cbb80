import type { Life } from './life.ts';
import type { Core } from './plan.ts';

/** Where an element keeps its core, for code of this layer. */
export const coreKey: unique symbol = Symbol('core') as never;

export interface HasCore extends HTMLElement {
  readonly [coreKey]: Core;
}

/** The same, for code that does not touch the view. */
export interface HasLife extends HTMLElement {
  readonly [coreKey]: Life;
}
