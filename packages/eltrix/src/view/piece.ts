import type { Template } from './template.ts';

/** How a piece of markup is recognised, also one that another copy of this module made. JSON cannot hold it. */
export const brand: unique symbol = Symbol.for('eltrix.markup.2') as never;

/** A piece of markup: a template and the values for its expressions. It is a description; nothing exists until placed. */
export interface Markup {
  readonly [brand]: true;
  readonly values: readonly unknown[];
  /** What is known of its template, made once for all pieces of it. */
  template(): Template;
}

export function isMarkup(value: unknown): value is Markup {
  return typeof value === 'object' && value !== null && brand in value;
}
