/** Style sheets of elements without a shadow root: `@scope` limits each to its element (CSS Cascading 6 §2.5). */
import { scopedCss, scopeSelector } from './scoped-css.ts';
import { type StyleSource, StyleText, sheetFor } from './styles.ts';

type StyleRoot = Document | ShadowRoot;

const scoped = new WeakMap<StyleSource, Map<string, StyleText>>();
const users = new WeakMap<StyleRoot, Map<CSSStyleSheet, number>>();

/** The sheet for elements that a selector finds. */
function scopedText(source: StyleSource, selector: string): StyleText {
  let made = scoped.get(source);
  if (!made) scoped.set(source, (made = new Map()));
  let text = made.get(selector);
  if (!text) {
    const from = (css: string) => scopedCss(css, selector);
    const css = 'text' in source ? source.text : [...source.cssRules].map(rule => rule.cssText).join('\n');
    text = source instanceof StyleText ? source.derive(from) : new StyleText(from(css));
    made.set(selector, text);
  }
  return text;
}

/** Adds the sheets to the document or shadow root around the element. They are removed with the last element. */
export function useScopedSheets(
  host: HTMLElement,
  sources: readonly StyleSource[],
  extended: string | undefined,
  tag: string,
): () => void {
  const root = host.getRootNode() as StyleRoot;
  if (sources.length === 0 || !('adoptedStyleSheets' in root)) return () => {};
  const document = host.ownerDocument;
  const selector = scopeSelector(extended === undefined ? host.localName : tag, extended);
  const sheets = sources
    .map(source => sheetFor(scopedText(source, selector), document))
    .filter(sheet => sheet !== undefined);
  let counts = users.get(root);
  if (!counts) users.set(root, (counts = new Map()));
  for (const sheet of sheets) {
    const count = counts.get(sheet) ?? 0;
    counts.set(sheet, count + 1);
    if (count === 0) root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet];
  }
  return () => {
    for (const sheet of sheets) {
      const count = counts.get(sheet)! - 1;
      counts.set(sheet, count);
      if (count === 0) root.adoptedStyleSheets = root.adoptedStyleSheets.filter(other => other !== sheet);
    }
  };
}
