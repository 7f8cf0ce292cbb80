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

/** Any value. A listener in markup need not declare the type of its event; `eltrix check --types` infers it. */
// biome-ignore lint/suspicious/noExplicitAny: the event of any listener.
// biome-ignore lint/complexity/noBannedTypes: with null and undefined it is what `unknown` is.
type Value = ((event: any) => unknown) | {} | null | undefined;

interface MarkupTag {
  (strings: TemplateStringsArray, ...values: Value[]): Markup;
  /** For a fragment inside `<svg>`. */
  svg(strings: TemplateStringsArray, ...values: Value[]): Markup;
  /** For a fragment inside `<math>`. */
  math(strings: TemplateStringsArray, ...values: Value[]): Markup;
}

/**
 * HTML with expressions. Values are never parsed as HTML. A function is a live expression: it runs again when a signal
 * or property that it has read changes, and only its binding is updated.
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
