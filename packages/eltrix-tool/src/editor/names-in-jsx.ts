import type { ElementDescription } from '../describe/description.ts';
import type { Node } from '../project/syntax.ts';
import { writtenText } from '../project/template-text.ts';
import type { Sighting } from './contract-name.ts';
import type { EditorProject } from './project.ts';

/**
 * Finds names of contracts in JSX: tags, events and slots; attributes whose property has another name, since hosts set
 * properties.
 *
 * @param tag a `JSXOpeningElement` or `JSXClosingElement`.
 */
export function jsxNames(project: EditorProject, code: string, tag: Node, parents: readonly Node[]): Sighting[] {
  const elementOf = (opening: Node | undefined) => project.element(nameInJsx(opening?.['name']) ?? '');
  const element = elementOf(tag);
  const around = parents.findLast(({ type }, at) => type === 'JSXElement' && at < parents.length - 1);
  const parent = elementOf(around?.['openingElement']);
  const found: Sighting[] = [];
  const put = (element: ElementDescription, kind: Sighting['kind'], name: string, start: number) =>
    found.push({ element, kind, name, start, end: start + name.length });
  if (element) put(element, 'tag', element.tag, tag['name'].start);
  for (const attribute of (tag['attributes'] ?? []) as Node[]) {
    const name = nameInJsx(attribute['name']);
    const { start } = attribute;
    const value = writtenText(code, attribute['value'] ?? undefined);
    if (name === 'slot' && value !== undefined && parent?.slots.some(slot => slot.name === value))
      put(parent, 'slot', value, attribute['value'].start + 1);
    if (!element || name === undefined) continue;
    if (name.startsWith('on') && element.events.some(({ type }) => type === name.slice(2)))
      put(element, 'event', name.slice(2), start + 2);
    const isProperty = element.properties.some(property => property.name === name);
    if (!isProperty && element.properties.some(property => property.attribute === name))
      put(element, 'attribute', name, start);
  }
  return found;
}

const nameInJsx = (node: Node | undefined) => (node?.type === 'JSXIdentifier' ? (node['name'] as string) : undefined);
