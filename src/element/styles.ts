/** Style sheets: written once a class, constructed once a document, shared by all instances. */

/** CSS that an author wrote. Sheets are constructed from it where they are needed. */
export class StyleText {
  #text: string;
  /** What was constructed from it, for later changes. */
  #made: WeakRef<CSSStyleSheet>[] = [];
  #elements: WeakRef<HTMLStyleElement>[] = [];

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
  construct(view: Window & typeof globalThis): CSSStyleSheet {
    const sheet = new view.CSSStyleSheet();
    sheet.replaceSync(this.#text);
    this.#made.push(new WeakRef(sheet));
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
export type StyleSource = StyleText | CSSStyleSheet;

/**
 * A style sheet of an element: `static styleSheets = [stylesheet`:host { display: block }`]`. Holes take CSS as its
 * author wrote it (a string), numbers and other sheets, and are fixed; what changes goes through custom properties,
 * states and attributes.
 * @throws TypeError for any other value in a hole.
 */
export function stylesheet(strings: TemplateStringsArray, ...values: (string | number | StyleText)[]): StyleText {
  let text = strings[0]!;
  values.forEach((value, index) => {
    if (typeof value !== 'string' && typeof value !== 'number' && !(value instanceof StyleText)) {
      throw new TypeError(
        __DEV__
          ? `(stylesheet-hole): hole ${index + 1} of a stylesheet takes CSS as text, a number or another stylesheet, and ${value === null ? 'null' : `a ${typeof value}`} came. What changes goes through a custom property: var(--name).`
          : 'stylesheet-hole',
      );
    }
    text += `${value}${strings[index + 1]!}`;
  });
  return new StyleText(text);
}

const constructed = new WeakMap<Document, Map<StyleSource, CSSStyleSheet>>();

/** The sheet for a document, made at most once. A sheet that belongs to another document is copied. */
export function sheetFor(source: StyleSource, document: Document): CSSStyleSheet | undefined {
  const view = document.defaultView as (Window & typeof globalThis) | null;
  if (!view || !('replaceSync' in (view.CSSStyleSheet?.prototype ?? {}))) return undefined;
  let sheets = constructed.get(document);
  if (!sheets) constructed.set(document, (sheets = new Map()));
  let sheet = sheets.get(source);
  if (!sheet) {
    if (source instanceof StyleText) sheet = source.construct(view);
    else if ((source as object) instanceof view.CSSStyleSheet) sheet = source;
    else sheet = copy(source, view);
    sheets.set(source, sheet);
  }
  return sheet;
}

function copy(source: CSSStyleSheet, view: Window & typeof globalThis): CSSStyleSheet {
  const sheet = new view.CSSStyleSheet();
  sheet.replaceSync([...source.cssRules].map(rule => rule.cssText).join('\n'));
  return sheet;
}

/** Gives a shadow root its sheets for the document it is in now. */
export function adoptSheets(root: ShadowRoot, sources: readonly StyleSource[]): void {
  if (sources.length === 0) return;
  const document = root.ownerDocument;
  const sheets = sources.map(source => sheetFor(source, document));
  if (sheets.every(sheet => sheet !== undefined)) {
    if ('adoptedStyleSheets' in root) root.adoptedStyleSheets = sheets;
    return;
  }
  // Constructed sheets are missing (a simulated DOM): plain <style> elements do, once a root.
  if (root.querySelector('style[data-eltrix]')) return;
  for (const source of sources) {
    if (!(source instanceof StyleText)) continue;
    const style = source.element(document);
    style.setAttribute('data-eltrix', '');
    root.append(style);
  }
}
