import { parse } from '../../view/trusted.ts';

/** A node and its descendants, in document order. */
export function nodesOf(node: Node, nodes: Node[] = []): Node[] {
  nodes.push(node);
  for (let child = node.firstChild; child; child = child.nextSibling) nodesOf(child, nodes);
  return nodes;
}

/** The static part of a view, or of a piece of markup; comments mark the places of texts. */
export function prepare(html: string): DocumentFragment {
  const content = parse(html);
  for (const node of nodesOf(content)) if (node.nodeType === 8) (node as Comment).replaceWith('');
  return content;
}
