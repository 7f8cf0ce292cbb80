/**
 * Imports that TypeScript drops, since their names are used as types alone: `import { HiveCard } from './hive-card.ts'`
 * for `handle<HiveCard>()`.
 */
import { isType, type Node, walk } from '../project/syntax.ts';

export interface DroppedImport {
  /** A relative address. */
  readonly address: string;
  readonly start: number;
}

/** The relative imports of a module that TypeScript drops, unless its settings keep all. */
export function droppedImports(file: string, program: Node): DroppedImport[] {
  const imports = (program['body'] as readonly Node[]).filter(
    node =>
      node.type === 'ImportDeclaration' &&
      node['importKind'] !== 'type' &&
      node['specifiers'].length > 0 &&
      node['source']['value'].startsWith('.'),
  );
  if (imports.length === 0 || !/\.[cm]?tsx?$/.test(file)) return [];
  const values = new Set<string>();
  walk(program, node => {
    if (node.type === 'ImportDeclaration' || isType(node)) return false;
    if (/Identifier$/.test(node.type)) values.add(node['name']);
    return true;
  });
  return imports
    .filter(({ specifiers }) => (specifiers as readonly Node[]).every(({ local }) => !values.has(local['name'])))
    .map(({ source, start }) => ({ address: source['value'], start }));
}
