/** Elements in markup that are not defined, since TypeScript drops the imports of their modules. */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { parseFragment } from 'parse5';
import type { ElementDescription } from '../describe/description.ts';
import type { Finding } from '../project/finding.ts';
import { resolveSource } from '../project/resolve-source.ts';
import { textOf } from '../project/seen.ts';
import { type Node, parseModule, walk } from '../project/syntax.ts';
import { positionIn } from '../project/text-position.ts';
import { droppedImports } from './dropped-imports.ts';
import { elementsIn, type SourceFacts } from './source.ts';

/**
 * The tags in the markup of a source whose modules do not run.
 * @param elements the elements of the project.
 */
export function undefinedTags(
  root: string,
  file: string,
  { code, classes, dropped }: SourceFacts,
  elements: readonly ElementDescription[],
): Finding[] {
  const path = join(root, file);
  if (dropped.length === 0 || mayKeepImports(path)) return [];
  const tags = new Set(
    classes.flatMap(({ templates }) =>
      templates.flatMap(({ text }) => Array.from(elementsIn(parseFragment(text)), ({ tagName }) => tagName)),
    ),
  );
  return dropped.flatMap(({ address, start }) => {
    const target = resolveSource(join(dirname(path), address));
    if (target === undefined) return [];
    const used = elements.find(element => join(root, element.file) === target && tags.has(element.tag));
    if (!used || leadsTo(path, code, target)) return [];
    return {
      code: 'import-dropped',
      message: `<${used.tag}> is not defined: TypeScript drops this import, since it is used for types alone. Write import '${address}' as well, or set "verbatimModuleSyntax": true in tsconfig.json.`,
      file,
      ...positionIn(code, start),
    };
  });
}

/**
 * Whether a module that runs leads to another one. True if that is unknown: some imports are found by the bundler
 * alone, and some are made later.
 */
function leadsTo(from: string, code: string, target: string): boolean {
  const paths = new Set([from]);
  for (const path of paths) {
    const parsed = parseModule(path, path === from ? code : textOf(path));
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
function mayKeepImports(file: string): boolean {
  for (let folder = dirname(file); ; folder = dirname(folder)) {
    const settings = join(folder, 'tsconfig.json');
    if (existsSync(settings))
      return /"(?:extends|verbatimModuleSyntax|preserveValueImports|importsNotUsedAsValues)"/.test(
        readFileSync(settings, 'utf8'),
      );
    if (folder === dirname(folder)) return false;
  }
}
