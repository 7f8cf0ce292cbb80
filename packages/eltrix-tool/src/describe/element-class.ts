/** Which element each class of a source defines, under whichever name it is exported. */
import { constantsOf, valueIn } from '../project/module-constants.ts';
import { type Node, walk } from '../project/syntax.ts';
import { contractCall } from './class-syntax.ts';

/** The classes of a program, also those within functions and other classes. */
export function classesIn(program: Node): Node[] {
  const found: Node[] = [];
  walk(program, node => {
    if (/^Class(?:Declaration|Expression)$/.test(node.type)) found.push(node);
  });
  return found;
}

/** An element, and the call of `contract()` if that is in the source, for the class or for one that it extends. */
export interface DefinedElement<E> {
  readonly element: E;
  readonly call: Node | undefined;
}

/**
 * The elements of classes: by the tag of their contract, or by name for a class without one. A class and one that
 * extends it may both stand for an element.
 *
 * @param elements those of the source.
 */
export function elementsOfClasses<E extends { readonly tag: string; readonly className: string }>(
  program: Node,
  elements: readonly E[],
): Map<Node, DefinedElement<E>> {
  const constants = constantsOf(program['body']);
  const found: [node: Node, element: E][] = [];
  const calls = new Map<E, Node>();
  for (const node of classesIn(program)) {
    const call = node['superClass'] ? contractCall(valueIn(constants, node['superClass'])) : undefined;
    const [tag] = (call?.['arguments'] ?? []) as Node[];
    const stated = tag && (valueIn(constants, tag)['value'] as unknown);
    const element = elements.find(({ tag, className }) =>
      stated === undefined ? className === node['id']?.name : tag === stated,
    );
    if (!element) continue;
    found.push([node, element]);
    if (call) calls.set(element, call);
  }
  return new Map(found.map(([node, element]) => [node, { element, call: calls.get(element) }]));
}
