import type { Node } from './syntax.ts';

/**
 * The names under which a module imports exports of the library, from local name to export.
 *
 * @param from whether a specifier counts.
 */
export function libraryNames(program: Node, from = /^eltrix$/): Map<string, string> {
  const names = new Map<string, string>();
  for (const node of program['body'] as Node[]) {
    if (node.type !== 'ImportDeclaration' || !from.test(node['source'].value as string)) continue;
    for (const { type, imported, local } of node['specifiers'] as Node[])
      if (type === 'ImportSpecifier') names.set(local.name, imported.name ?? imported.value);
  }
  return names;
}
