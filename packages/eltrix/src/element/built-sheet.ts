/** A style sheet with a fixed text, written by a build. */
export class BuiltSheet {
  readonly #made = new WeakMap<Document, CSSStyleSheet>();

  constructor(readonly text: string) {}

  sheetFor(document: Document): CSSStyleSheet {
    let sheet = this.#made.get(document);
    if (!sheet) {
      sheet = new (document.defaultView as Window & typeof globalThis).CSSStyleSheet();
      sheet.replaceSync(this.text);
      this.#made.set(document, sheet);
    }
    return sheet;
  }
}
