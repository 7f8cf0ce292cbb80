/** Finds the tag, attribute or value at a position of HTML. */
import {
  type HTMLDocument,
  type LanguageService,
  type Node,
  type TextDocument,
  TokenType,
} from 'vscode-html-languageservice';

export interface HtmlPlace {
  readonly node: Node;
  readonly tag: string;
  /** The element around the position. */
  readonly parent: string | undefined;
  /** Set on the name or value of an attribute. */
  readonly attribute?: { readonly name: string; readonly start: number; readonly end: number };
  /** Set inside a value, without quotes. */
  readonly value?: { readonly text: string; readonly start: number; readonly end: number };
}

/** @returns undefined outside elements. */
export function placeAt(
  html: LanguageService,
  document: TextDocument,
  parsed: HTMLDocument,
  offset: number,
): HtmlPlace | undefined {
  const node = parsed.findNodeAt(offset);
  if (!node.tag) return undefined;
  const base = { node, tag: node.tag, parent: node.parent?.tag };
  const text = document.getText();
  const end = node.startTagEnd ?? node.end;
  if (offset > end) return base;
  const scanner = html.createScanner(text, node.start);
  let name: { name: string; start: number; end: number } | undefined;
  for (
    let token = scanner.scan();
    scanner.getTokenOffset() <= offset && token !== TokenType.EOS;
    token = scanner.scan()
  ) {
    const [start, stop] = [scanner.getTokenOffset(), scanner.getTokenEnd()];
    if (token === TokenType.AttributeName) name = { name: scanner.getTokenText(), start, end: stop };
    if (offset < start || offset > stop) continue;
    if (token === TokenType.AttributeName) return { ...base, attribute: name! };
    if (token === TokenType.AttributeValue && name) {
      const raw = scanner.getTokenText();
      const quoted = /^["']/.test(raw) ? 1 : 0;
      const closed = quoted && raw.length > 1 && raw.endsWith(raw[0]!) ? 1 : 0;
      const value = { text: raw.slice(quoted, raw.length - closed), start: start + quoted, end: stop - closed };
      return { ...base, attribute: name, value };
    }
  }
  return base;
}
