import type { Namespace } from './analyse.ts';
import { brand, type Markup } from './piece.ts';
import { templateOf } from './prepare.ts';
import type { Template } from './template.ts';

class Piece implements Markup {
  get [brand](): true {
    return true;
  }

  constructor(
    readonly namespace: Namespace,
    readonly strings: TemplateStringsArray,
    readonly values: readonly unknown[],
  ) {}

  template(): Template {
    return templateOf(this.strings, this.namespace);
  }
}

/** Anything. A listener that is written in markup need not name the type of its event; `eltrix check --types` knows it. */
// biome-ignore lint/suspicious/noExplicitAny: the event of any listener.
// biome-ignore lint/complexity/noBannedTypes: with null and undefined it is what `unknown` is.
type Value = ((event: any) => unknown) | {} | null | undefined;

interface MarkupTag {
  (strings: TemplateStringsArray, ...values: Value[]): Markup;
  /** For a fragment that stands inside `<svg>`. */
  svg(strings: TemplateStringsArray, ...values: Value[]): Markup;
  /** For a fragment that stands inside `<math>`. */
  math(strings: TemplateStringsArray, ...values: Value[]): Markup;
}

/**
 * HTML with expressions. Text is never parsed as HTML; a function in an expression is live: it runs again when a signal or
 * property that it read changes, and only that expression is touched.
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
