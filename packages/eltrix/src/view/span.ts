/** Nodes next to each other, from `first` to `last`, with all nodes between. */
export interface Span {
  readonly first: ChildNode;
  readonly last: ChildNode;
}

/** The nodes from the first to the last; only these two if other scripts have separated them. */
export function nodesOf({ first, last }: Span): ChildNode[] {
  const nodes: ChildNode[] = [];
  for (let node: ChildNode | null = first; node !== null; node = node.nextSibling) {
    nodes.push(node);
    if (node === last) return nodes;
  }
  return [first, last];
}
