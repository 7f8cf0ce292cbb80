/** Style sheets: written once in a class, constructed once for a document, shared by all instances. */
import type { BuiltSheet } from './built-sheet.ts';
import { sheetText } from './sheet-text.ts';

/** CSS of an author. Sheets are constructed from it for each document. */
export class StyleText {
  #text: string;
  /** The constructed sheets, for later changes. */
  #made: WeakRef<CSSStyleSheet>[] = [];
  #elements: WeakRef<HTMLStyleElement>[] = [];
  readonly #byDocument = new WeakMap<Document, CSSStyleSheet>();
  readonly #derived: { readonly sheet: StyleText; readonly from: (text: string) => string }[] = [];

  constructor(text: string) {
    this.#text = text;
  }

  get text(): string {
    return this.#text;
  }

  /** Replaces the CSS in all constructed sheets. */
  replace(text: string): void {
    this.#text = text;
    for (const made of this.#made) made.deref()?.replaceSync(text);
    for (const made of this.#elements) {
      const element = made.deref();
      if (element) element.textContent = text;
    }
    for (const { sheet, from } of this.#derived) sheet.replace(from(text));
  }

  /**
   * A sheet whose text follows from this one's.
   * @internal
   */
  derive(from: (text: string) => string): StyleText {
    const sheet = new StyleText(from(this.#text));
    this.#derived.push({ sheet, from });
    return sheet;
  }

  /** @internal */
  sheetFor(document: Document): CSSStyleSheet | undefined {
    let sheet = this.#byDocument.get(document);
    const view = document.defaultView as (Window & typeof globalThis) | null;
    if (!sheet && view && 'replaceSync' in (view.CSSStyleSheet?.prototype ?? {})) {
      sheet = new view.CSSStyleSheet();
      sheet.replaceSync(this.#text);
      this.#byDocument.set(document, sheet);
      this.#made.push(new WeakRef(sheet));
    }
    return sheet;
  }

  /** @internal */
  element(document: Document): HTMLStyleElement {
    const element = document.createElement('style');
    element.textContent = this.#text;
    this.#elements.push(new WeakRef(element));
    return element;
  }

  toString(): string {
    return this.#text;
  }
}

/** A sheet in `static styleSheets`. */
export type StyleSource = StyleText | BuiltSheet | CSSStyleSheet;

/** The allowed values of `static styleSheets`: a sheet, or a list of sheets and of other lists. */
export type StyleSheets = StyleSource | readonly StyleSheets[];

/**
 * A style sheet of an element: `static styleSheets = [stylesheet`:host { display: block }`]`. Expressions take CSS as
 * a string, numbers and other sheets. They are evaluated once: use custom properties, states and attributes for values
 * that change.
 * @throws TypeError for any other value in an expression.
 * @example static styleSheets = [stylesheet`:host { display: block }`];
 */
export function stylesheet(strings: TemplateStringsArray, ...values: (string | number | StyleText)[]): StyleText {
  return new StyleText(sheetText(strings, ...values));
}

const copies = new WeakMap<CSSStyleSheet, StyleText>();

/** The sheet for a document, constructed at most once. A sheet of another document is copied. */
export function sheetFor(source: StyleSource, document: Document): CSSStyleSheet | undefined {
  if ('sheetFor' in source) return source.sheetFor(document);
  const view = document.defaultView as (Window & typeof globalThis) | null;
  if (view && source instanceof view.CSSStyleSheet) return source;
  let copy = copies.get(source);
  if (!copy) copies.set(source, (copy = new StyleText([...source.cssRules].map(rule => rule.cssText).join('\n'))));
  return copy.sheetFor(document);
}
