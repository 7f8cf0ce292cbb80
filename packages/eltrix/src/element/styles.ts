/** Style sheets: written once a class, constructed once a document, shared by all instances. */
import type { BuiltSheet } from './built-sheet.ts';
import { sheetText } from './sheet-text.ts';

/** CSS that an author wrote. Sheets are constructed from it where they are needed. */
export class StyleText {
  #text: string;
  /** What was constructed from it, for later changes. */
  #made: WeakRef<CSSStyleSheet>[] = [];
  #elements: WeakRef<HTMLStyleElement>[] = [];
  readonly #byDocument = new WeakMap<Document, CSSStyleSheet>();

  constructor(text: string) {
    this.#text = text;
  }

  get text(): string {
    return this.#text;
  }

  /** Exchanges the CSS everywhere it is in use. */
  replace(text: string): void {
    this.#text = text;
    for (const made of this.#made) made.deref()?.replaceSync(text);
    for (const made of this.#elements) {
      const element = made.deref();
      if (element) element.textContent = text;
    }
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

/** What `static styleSheets` may list. */
export type StyleSource = StyleText | BuiltSheet | CSSStyleSheet;

/**
 * A style sheet of an element: `static styleSheets = [stylesheet`:host { display: block }`]`. Expressions take CSS as its
 * author wrote it (a string), numbers and other sheets, and are fixed; what changes goes through custom properties,
 * states and attributes.
 * @throws TypeError for any other value in an expression.
 * @example static styleSheets = [stylesheet`:host { display: block }`];
 */
export function stylesheet(strings: TemplateStringsArray, ...values: (string | number | StyleText)[]): StyleText {
  return new StyleText(sheetText(strings, ...values));
}

const copies = new WeakMap<CSSStyleSheet, StyleText>();

/** The sheet for a document, made at most once. A sheet that belongs to another document is copied. */
export function sheetFor(source: StyleSource, document: Document): CSSStyleSheet | undefined {
  if ('sheetFor' in source) return source.sheetFor(document);
  const view = document.defaultView as (Window & typeof globalThis) | null;
  if (view && source instanceof view.CSSStyleSheet) return source;
  let copy = copies.get(source);
  if (!copy) copies.set(source, (copy = new StyleText([...source.cssRules].map(rule => rule.cssText).join('\n'))));
  return copy.sheetFor(document);
}
