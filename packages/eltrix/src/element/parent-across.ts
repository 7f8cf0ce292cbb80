/**
 * The parent of a node, or the host of a shadow root. A link has a `host` as well, that of its address, and may be the root
 * of its tree (HTML §4.6.3).
 */
export const parentAcross = (node: Node): Node | undefined =>
  node.parentNode ?? (node.nodeType === 11 ? (node as Partial<ShadowRoot>).host : undefined);
