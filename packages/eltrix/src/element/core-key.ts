import type { Life } from './life.ts';
import type { Core } from './plan.ts';

/** The property under which this layer keeps an element's core. */
export const coreKey: unique symbol = Symbol('core') as never;

export interface HasCore extends HTMLElement {
  readonly [coreKey]: Core;
}

/** The same for code that does not touch the view. */
export interface HasLife extends HTMLElement {
  readonly [coreKey]: Life;
}
