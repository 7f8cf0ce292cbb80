/** The content security policy of the check's pages, and specimens without what it blocks. */
import { createHash } from 'node:crypto';
import { type DefaultTreeAdapterTypes, parseFragment, serialize } from 'parse5';
import { attributeOf } from '../../project/attribute-of.ts';
import { platformEvents } from '../../project/html-names.ts';

type Node = DefaultTreeAdapterTypes.Node;
type Element = DefaultTreeAdapterTypes.Element;

/**
 * A strict policy that allows the style attributes of specimens, which belong to the page: by hashes of their texts
 * (Content Security Policy Level 3, `'unsafe-hashes'`). Other texts, which an element may add, are blocked.
 *
 * @param html the specimens of the page.
 */
export function policyFor(html: readonly string[]): string {
  const texts = html.flatMap(text => elementsIn(parseFragment(text)).map(element => attributeOf(element, 'style')));
  const hashes = [...new Set(texts)].flatMap(text =>
    text === undefined ? [] : [`'sha256-${createHash('sha256').update(text).digest('base64')}'`],
  );
  const styles = ["style-src 'self'", ...(hashes.length > 0 ? ["'unsafe-hashes'", ...hashes] : [])].join(' ');
  return `default-src 'none'; script-src 'self'; ${styles}; img-src 'self' data:; font-src 'self'; connect-src 'self'; frame-src 'self'; base-uri 'self'; form-action 'none'; require-trusted-types-for 'script'; trusted-types eltrix`;
}

/**
 * The HTML of a specimen without the handlers in its attributes and its style elements, and the texts of those. They
 * belong to the page: what a policy makes of them is not the element's fault.
 */
export function withoutOwn(html: string): { readonly html: string; readonly styles: readonly string[] } {
  const root = parseFragment(html);
  const styles: string[] = [];
  for (const element of elementsIn(root))
    element.attrs = element.attrs.filter(({ name }) => !(name.startsWith('on') && platformEvents.has(name.slice(2))));
  // In a template, a style element may be that of a shadow root.
  for (const element of elementsIn(root, false)) {
    if (element.tagName !== 'style') continue;
    styles.push(element.childNodes.map(node => ('value' in node ? node.value : '')).join(''));
    const { parentNode } = element;
    parentNode!.childNodes.splice(parentNode!.childNodes.indexOf(element), 1);
  }
  return { html: serialize(root), styles };
}

/** All elements below a node. */
function elementsIn(node: Node, withTemplates = true): Element[] {
  const children: readonly Node[] = [
    ...(withTemplates && 'content' in node ? [node.content] : []),
    ...('childNodes' in node ? node.childNodes : []),
  ];
  return [...('attrs' in node ? [node] : []), ...children.flatMap(child => elementsIn(child, withTemplates))];
}
