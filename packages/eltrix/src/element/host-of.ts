/** Ancestors across shadow roots. */

/**
 * The host of a shadow root; undefined for any other node. A link has a `host` as well, that of its address, and may be
 * the root of its tree (HTML §4.6.3).
 */
export const hostOf = (node: Node): Element | undefined =>
  node.nodeType === 11 ? (node as Partial<ShadowRoot>).host : undefined;

/** The parent of a node, or the host of a shadow root. */
export const parentAcross = (node: Node): Node | undefined => node.parentNode ?? hostOf(node);
