/** What a module exports and imports, and under which names. */
import { type Node, namesOf } from './syntax.ts';

/** A name or another node of the module, or an export of another module; `*` is its namespace. */
export type Exported = { readonly node: Node } | { readonly from: string; readonly name: string };

/** A name, which may be written as a string. */
export const textOf = (name: Node): string => name['name'] ?? name['value'];

/** What a module exports under a name. Several if each of them may have it, since they pass on all. */
export function exportsOf(program: Node, name: string): readonly Exported[] {
  const all: Exported[] = [];
  for (const statement of program['body'] as Node[]) {
    const { type, source, declaration, exported } = statement;
    if (type === 'ExportAllDeclaration') {
      const from = source['value'] as string;
      if (exported !== null && textOf(exported) === name) return [{ from, name: '*' }];
      if (exported === null && name !== 'default') all.push({ from, name });
    } else if (type === 'ExportDefaultDeclaration') {
      if (name === 'default') return [{ node: declaration }];
    } else if (type === 'ExportNamedDeclaration') {
      for (const { local, exported: given } of statement['specifiers'] as Node[])
        if (textOf(given) === name) return [source ? { from: source['value'], name: textOf(local) } : { node: local }];
      const made = (declaration?.['declarations'] ?? [declaration]) as (Node | null)[];
      for (const id of made.flatMap(one => (one?.['id'] as Node | null) ?? []))
        if (namesOf(id).has(name)) return [{ node: id }];
    }
  }
  return all;
}

/** An imported name: the module, and what that one calls it; `*` is its namespace. */
export interface Import {
  readonly from: string;
  readonly name: string;
}

/** What a module imports, by local names; types are left out if `import type` brings them. */
export function importsOf(program: Node): Map<string, Import> {
  const imports = new Map<string, Import>();
  for (const statement of program['body'] as Node[]) {
    if (statement.type !== 'ImportDeclaration' || statement['importKind'] === 'type') continue;
    const from = statement['source']['value'] as string;
    for (const specifier of statement['specifiers'] as Node[])
      imports.set(specifier['local']['name'], { from, name: importedName(specifier) });
  }
  return imports;
}

/** What the other module calls an import. */
export function importedName({ type, imported }: Node): string {
  return type === 'ImportSpecifier' ? textOf(imported) : type === 'ImportDefaultSpecifier' ? 'default' : '*';
}
