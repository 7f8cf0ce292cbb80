/**
 * Imports that TypeScript drops, since their names are used as types alone, though their modules define elements that
 * the markup has: `import { HiveCard } from './hive-card.ts'` for `handle<HiveCard>()`.
 */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { resolveSource } from '../project/resolve-source.ts';
import { textOf } from '../project/seen.ts';
import { isType, type Node, parseModule, walk } from '../project/syntax.ts';

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

/**
 * Whether a module that runs leads to another one. True if that is unknown: some imports are found by the bundler
 * alone, and some are made later.
 */
export function leadsTo(from: string, target: string): boolean {
  const paths = new Set([from]);
  for (const path of paths) {
    const parsed = parseModule(path, textOf(path));
    if (!parsed) return true;
    const dropped = droppedImports(path, parsed.program).map(({ start }) => start);
    let isUnknown = false;
    walk(parsed.program, node => {
      isUnknown ||= node.type === 'ImportExpression';
    });
    for (const { type, source, importKind, exportKind, start } of parsed.program['body'] as readonly Node[]) {
      if (!/^(?:Im|Ex)port/.test(type) || !source || dropped.includes(start)) continue;
      if (importKind === 'type' || exportKind === 'type') continue;
      const address = source['value'] as string;
      const next = address.startsWith('.') ? resolveSource(join(dirname(path), address)) : undefined;
      if (next === target) return true;
      if (next !== undefined && !/\.d\.[cm]?ts$/.test(next)) paths.add(next);
      isUnknown ||= !address.startsWith('.') && !isPackage(address, path);
    }
    if (isUnknown) return true;
  }
  return false;
}

function isPackage(address: string, path: string): boolean {
  if (/^(?:eltrix(?:\/|$)|node:)/.test(address)) return true;
  try {
    return createRequire(path).resolve(address).includes('node_modules');
  } catch {
    return false;
  }
}

/** Whether TypeScript's settings for a file, or what they extend, may keep the imports. */
export function mayKeepImports(file: string): boolean {
  for (let folder = dirname(file); ; folder = dirname(folder)) {
    const settings = join(folder, 'tsconfig.json');
    if (existsSync(settings))
      return /"(?:extends|verbatimModuleSyntax|preserveValueImports|importsNotUsedAsValues)"/.test(
        readFileSync(settings, 'utf8'),
      );
    if (folder === dirname(folder)) return false;
  }
}
