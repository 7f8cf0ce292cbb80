/** Finds the class that a name stands for, through the names of its module and through other modules. */
import type { Node } from '../project/syntax.ts';
import { classNamed } from './class-syntax.ts';
import type { TypeModule } from './type-names.ts';

/** A class by its name within its module; `default` without a name. */
export interface ClassPlace {
  readonly module: TypeModule;
  readonly name: string;
}

/** Reads what a specifier of a module leads to; undefined for a package. */
export type Follow = (specifier: string, from: TypeModule) => TypeModule | undefined;

const textOf = (name: Node): string => name['name'] ?? name['value'];

/**
 * The class that a module exports under a name.
 * @param through the exports that have led here, since modules may pass a name on in a circle.
 */
export function exportedClass(
  module: TypeModule,
  exported: string,
  follow: Follow,
  through = new Set<string>(),
): ClassPlace | undefined {
  const key = `${module.file}\0${exported}`;
  if (through.has(key)) return undefined;
  through.add(key);
  const further: Node[] = [];
  for (const statement of module.body) {
    const { type } = statement;
    if (type === 'ExportDefaultDeclaration' && exported === 'default') {
      const { declaration } = statement as unknown as { declaration: Node };
      if (declaration.type === 'Identifier') return localClass(module, declaration['name'], follow, through);
    } else if (type === 'ExportAllDeclaration' && statement['exported'] === null) further.push(statement);
    else if (type === 'ExportNamedDeclaration') {
      const passed = (statement['specifiers'] as Node[]).find(one => textOf(one['exported']) === exported);
      if (!passed) continue;
      const name = textOf(passed['local']);
      return statement['source']
        ? inOther(module, statement, name, follow, through)
        : localClass(module, name, follow, through);
    }
  }
  if (classNamed(module.body, exported)) return { module, name: exported };
  for (const statement of further) {
    const found = exported === 'default' ? undefined : inOther(module, statement, exported, follow, through);
    if (found) return found;
  }
  return undefined;
}

/** The class that a name stands for inside a module. */
export function localClass(
  module: TypeModule,
  name: string,
  follow: Follow,
  through?: Set<string>,
): ClassPlace | undefined {
  if (classNamed(module.body, name)) return { module, name };
  const specifier = importOf(module, name);
  if (!specifier || specifier.of.type === 'ImportNamespaceSpecifier') return undefined;
  const { of, statement } = specifier;
  const imported = of.type === 'ImportSpecifier' ? textOf(of['imported']) : 'default';
  return inOther(module, statement, imported, follow, through);
}

/** The class that a member of a namespace stands for: `cards.HiveCard`. */
export function memberClass(module: TypeModule, node: Node, follow: Follow): ClassPlace | undefined {
  const { object, property, computed } = node as unknown as { object: Node; property: Node; computed: boolean };
  const specifier = object.type === 'Identifier' && !computed ? importOf(module, object['name']) : undefined;
  if (specifier?.of.type !== 'ImportNamespaceSpecifier') return undefined;
  return inOther(module, specifier.statement, property['name'], follow);
}

function importOf(module: TypeModule, name: string): { readonly of: Node; readonly statement: Node } | undefined {
  for (const statement of module.body) {
    if (statement.type !== 'ImportDeclaration') continue;
    const of = (statement['specifiers'] as Node[]).find(({ local }) => local['name'] === name);
    if (of) return { of, statement };
  }
  return undefined;
}

function inOther(
  module: TypeModule,
  statement: Node,
  name: string,
  follow: Follow,
  through?: Set<string>,
): ClassPlace | undefined {
  const other = follow(statement['source']['value'], module);
  return other && exportedClass(other, name, follow, through);
}
