/** The Trusted Types policy of the library. */
import type { Namespace } from './analyse.ts';

interface Policy {
  createHTML(html: string): string;
  createScriptURL(url: string): string;
}

const key = Symbol.for('eltrix.policy.1');

/**
 * Pages that enforce Trusted Types have to allow the policy "eltrix". All copies of this module on the page share one,
 * since a second policy with the name may be rejected. It is only given the static part of templates, and checked URLs
 * of `<object>` and `<embed>`. Data never reaches it.
 */
export function policy(): Policy {
  const page = globalThis as unknown as Record<symbol, Policy> & {
    trustedTypes?: { createPolicy(name: string, rules: Policy): Policy };
  };
  const rules: Policy = { createHTML: html => html, createScriptURL: url => url };
  return (page[key] ??= page.trustedTypes?.createPolicy('eltrix', rules) ?? rules);
}

/** The document that parses. The elements of an XHTML page would parse as XML (HTML §14.2). */
let maker: Document | undefined;

/** Parses the static part of a template. */
export function parse(html: string): DocumentFragment {
  maker ??= document.contentType === 'text/html' ? document : document.implementation.createHTMLDocument();
  const template = maker.createElement('template');
  template.innerHTML = policy().createHTML(html);
  return template.content;
}

/** The same for a fragment inside `<svg>` or `<math>`. */
export function parseForeign(html: string, namespace: Namespace): DocumentFragment {
  const content = parse(`<${namespace}>${html}</${namespace}>`);
  const root = content.firstChild as Element;
  root.replaceWith(...root.childNodes);
  return content;
}
