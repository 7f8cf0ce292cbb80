import type { Template } from './template.ts';

/** Marks a piece of markup, across copies of this module. A symbol, which JSON cannot contain. */
export const brand: unique symbol = Symbol.for('eltrix.markup.2') as never;

/**
 * A piece of markup: a template, and the values of its expressions. Its nodes are created when it is placed in a view.
 */
export interface Markup {
  readonly [brand]: true;
  readonly values: readonly unknown[];
  /** Its template, prepared once for all pieces. */
  template(): Template;
}

export function isMarkup(value: unknown): value is Markup {
  return typeof value === 'object' && value !== null && brand in value;
}
