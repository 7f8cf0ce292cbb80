/** The one Trusted Types policy of the library. */
import type { Namespace } from './analyse.ts';

interface Policy {
  createHTML(html: string): string;
  createScriptURL(url: string): string;
}

const key = Symbol.for('eltrix.policy.1');

/**
 * Where Trusted Types are enforced, the policy "eltrix" has to be allowed. One serves every copy of this module on the
 * page, since a second one of the name may be refused. Scripts could reach it; data cannot: it is only ever given the
 * static part of templates, and the addresses of `<object>` and `<embed>` that have been looked at.
 */
export function policy(): Policy {
  const page = globalThis as unknown as Record<symbol, Policy> & {
    trustedTypes?: { createPolicy(name: string, rules: Policy): Policy };
  };
  const rules: Policy = { createHTML: html => html, createScriptURL: url => url };
  return (page[key] ??= page.trustedTypes?.createPolicy('eltrix', rules) ?? rules);
}

/** What parses: in a page of XHTML the document's own elements would take what they are given for XML (HTML §14.2). */
let maker: Document | undefined;

/** Parses the static part of a template. */
export function parse(html: string): DocumentFragment {
  maker ??= document.contentType === 'text/html' ? document : document.implementation.createHTMLDocument();
  const template = maker.createElement('template');
  template.innerHTML = policy().createHTML(html);
  return template.content;
}

/** The same for what stands inside `<svg>` or `<math>`. */
export function parseForeign(html: string, namespace: Namespace): DocumentFragment {
  const content = parse(`<${namespace}>${html}</${namespace}>`);
  const root = content.firstChild as Element;
  root.replaceWith(...root.childNodes);
  return content;
}
