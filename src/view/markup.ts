import type { Namespace } from './analyse.ts';

/** How a piece of markup is recognised, also one that another copy of this module made. JSON cannot hold it. */
export const brand: unique symbol = Symbol.for('eltrix.markup.1') as never;

/** A piece of markup: a template and the values for its holes. It is a description; nothing exists until placed. */
export interface Markup {
  readonly [brand]: Namespace;
  readonly strings: TemplateStringsArray;
  readonly values: readonly unknown[];
}

class Piece implements Markup {
  readonly [brand]: Namespace;

  constructor(
    namespace: Namespace,
    readonly strings: TemplateStringsArray,
    readonly values: readonly unknown[],
  ) {
    this[brand] = namespace;
  }
}

export function isMarkup(value: unknown): value is Markup {
  return typeof value === 'object' && value !== null && brand in value;
}

/** @throws TypeError unless the strings come from a template in source code: data cannot pose as markup. */
export function refuseForged(strings: TemplateStringsArray): void {
  if (
    !(Array.isArray(strings) && Array.isArray(strings.raw) && Object.isFrozen(strings) && Object.isFrozen(strings.raw))
  ) {
    throw new TypeError(
      __DEV__
        ? '(markup-forged): markup was called as a function. Write it as a template: markup`<p>${text}</p>`.'
        : 'markup-forged',
    );
  }
}

interface MarkupTag {
  (strings: TemplateStringsArray, ...values: unknown[]): Markup;
  /** For a fragment that stands inside `<svg>`. */
  svg(strings: TemplateStringsArray, ...values: unknown[]): Markup;
  /** For a fragment that stands inside `<math>`. */
  math(strings: TemplateStringsArray, ...values: unknown[]): Markup;
}

/**
 * HTML with holes. Text is never parsed as HTML; a function in a hole is live: it runs again when a signal or
 * property that it read changes, and only that hole is touched.
 *
 * @example markup`<h3 class=${() => this.mood}>${() => this.name}</h3>`
 * @throws TypeError when it is not called as a template.
 */
export const markup: MarkupTag = /* @__PURE__ */ Object.assign(
  (strings: TemplateStringsArray, ...values: unknown[]): Markup => new Piece('html', strings, values),
  {
    svg: (strings: TemplateStringsArray, ...values: unknown[]): Markup => new Piece('svg', strings, values),
    math: (strings: TemplateStringsArray, ...values: unknown[]): Markup => new Piece('math', strings, values),
  },
);
