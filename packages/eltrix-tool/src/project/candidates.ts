/** Finds the modules of a source folder that may define elements. */
import { basename, dirname, join } from 'node:path';
import { LibraryNames } from './library-names.ts';
import { markFile } from './output-folder.ts';
import { importedBy, RememberedReading } from './passed-names.ts';
import { filesBelow, textOf } from './seen.ts';
import { isType, type Node, parseModule, walk } from './syntax.ts';

/**
 * Returns modules that mention `contract` or call it under another name, and modules whose classes extend an import
 * from one of these, under any name and across any number of modules; sorted by name.
 */
export function candidates(root: string, source: string): string[] {
  // Output folders inside the source folder are skipped.
  const built = filesBelow(root, source, `**/${markFile}`, ['**/node_modules/**']).map(file => `${dirname(file)}/**`);
  const others = ['**/*.test.*', '**/*.d.ts', '**/node_modules/**', ...built];
  const files = filesBelow(root, source, '**/*.{ts,js,mts,mjs,tsx,jsx}', others);
  const found = new Set(files.filter(file => /\bcontract\b/.test(textOf(join(root, file)))));
  const left = files.filter(
    file =>
      !found.has(file) && /\bexport\b/.test(textOf(join(root, file))) && /\bfrom\b/.test(textOf(join(root, file))),
  );
  const links = left.map(file => [file, linksOf(root, file)] as const);
  for (const [file, { callsContract }] of links) if (callsContract) found.add(file);
  if (found.size > 0) follow(links, found);
  return files.filter(file => found.has(file));
}

/** Adds modules whose classes extend exports of the modules found so far. */
function follow(links: readonly (readonly [file: string, links: Links])[], found: Set<string>): void {
  const sources = new Map<string, string[]>();
  const known = (file: string) => {
    const name = nameOf(file);
    sources.set(name, [...(sources.get(name) ?? []), file]);
  };
  for (const file of found) known(file);
  const seen = new Set<string>();
  for (let before = -1; before !== seen.size; ) {
    before = seen.size;
    for (const [file, { classes, passed }] of links) {
      if (seen.has(file)) continue;
      const isMade = classes.some(from => leads(file, from, sources));
      if (!isMade && !passed.some(from => leads(file, from, sources))) continue;
      seen.add(file);
      known(file);
      // A module that only re-exports declares no class.
      if (isMade) found.add(file);
    }
  }
}

/** Whether an import may refer to one of some modules: an alias is compared by the last part of its path. */
function leads(file: string, specifier: string, sources: ReadonlyMap<string, readonly string[]>): boolean {
  const candidates = sources.get(nameOf(specifier)) ?? [];
  if (!specifier.startsWith('.')) return candidates.length > 0;
  const target = withoutExtension(join(dirname(file), specifier));
  return candidates.some(other => [target, join(target, 'index')].includes(withoutExtension(other)));
}

const withoutExtension = (path: string) => path.replace(/\.[cm]?[jt]sx?$/, '');
/** The last part of a path; for an index file the name of its folder. */
function nameOf(path: string): string {
  const name = basename(withoutExtension(path));
  return name === 'index' ? basename(dirname(path)) : name;
}

/** The specifiers of imports that classes extend, and of those whose exports may be exported again. */
interface Links {
  /** Whether a class extends a call of `contract()`, under the name that another module has given it. */
  readonly callsContract: boolean;
  readonly classes: readonly string[];
  readonly passed: readonly string[];
}

const remembered = new RememberedReading<Links>();

function linksOf(root: string, file: string): Links {
  const path = join(root, file);
  const text = textOf(path);
  return remembered.get(path, text, read => {
    const parsed = parseModule(path, text);
    // The bundler reports the syntax error, if the module is imported.
    if (!parsed) return { callsContract: false, classes: [], passed: [] };
    const imports = new Map<string, string>();
    const passed: string[] = [];
    for (const statement of parsed.program['body'] as Node[]) {
      if (isType(statement)) continue;
      const from = statement['source']?.['value'] as string | undefined;
      if (from === undefined) continue;
      if (statement.type === 'ImportDeclaration')
        for (const { local } of statement['specifiers'] as Node[]) imports.set(local['name'], from);
      else passed.push(from);
    }
    const made = new Map<string, Node>();
    const extended: Node[] = [];
    walk(parsed.program, node => {
      if (/^(?:VariableDeclarator|Function|Class)/.test(node.type) && node['id']?.type === 'Identifier')
        made.set(node['id']['name'], node['init'] ?? node);
      if (/^Class/.test(node.type) && node['superClass']) extended.push(node['superClass']);
    });
    const classes = new Set<string>();
    const followed = new Set<Node>();
    const names = new LibraryNames(parsed, importedBy(path, read));
    let callsContract = false;
    // A class may extend what a variable or a function of the module has made of an import.
    for (let node = extended.pop(); node; node = extended.pop()) {
      if (followed.has(node)) continue;
      followed.add(node);
      walk(node, ({ type, name, callee }) => {
        callsContract ||= type === 'CallExpression' && names.nameOf(callee) === 'contract';
        if (type !== 'Identifier') return;
        const from = imports.get(name);
        if (from !== undefined) classes.add(from);
        else if (made.has(name)) extended.push(made.get(name)!);
      });
    }
    // Imports may be exported again, and so may what a variable or a function makes of them.
    for (const { type, source, specifiers, declaration } of parsed.program['body'] as Node[]) {
      if (type !== 'ExportNamedDeclaration' || source) continue;
      if (specifiers.length > 0) passed.push(...imports.values());
      else if (declaration && !/^Class/.test(declaration.type))
        walk(declaration, ({ type, name }) => {
          const from = type === 'Identifier' ? imports.get(name) : undefined;
          if (from !== undefined) passed.push(from);
        });
    }
    return { callsContract, classes: [...classes], passed };
  });
}
