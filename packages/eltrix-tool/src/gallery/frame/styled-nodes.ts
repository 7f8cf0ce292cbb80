import { parsed } from '../../check/page/place.ts';

/** The nodes of HTML. Their styles are set through CSSOM, which a strict policy of the gallery's host allows. */
export function styledNodes(html: string): DocumentFragment {
  const nodes = parsed(html);
  for (const element of nodes.querySelectorAll<HTMLElement>('[style]')) {
    const text = element.getAttribute('style')!;
    element.removeAttribute('style');
    element.style.cssText = text;
  }
  return nodes;
}
