/** The library's exports under the names that a module has for them. */
import { type Import, importsOf, textOf } from './exports.ts';
import { bare, type Node, type ParsedModule } from './syntax.ts';

/** What a module gives under a name, if that is an export of the library: the name of the export. */
export type Passed = (exported: string) => string | undefined;

/** Finds what the module of a specifier passes on; undefined if nothing of it is the library's. */
export type Imported = (specifier: string) => Passed | undefined;

/** The library itself. */
export const ofLibrary: Imported = specifier => (specifier === 'eltrix' ? name => name : undefined);

/** A `const` whose values are exports of the library. */
export interface Alias {
  readonly statement: Node;
  /** By local names. */
  readonly names: ReadonlyMap<string, string>;
}

export class LibraryNames {
  /** Constants of the module that only give exports of the library other names. */
  readonly aliases: readonly Alias[];
  readonly #imports: ReadonlyMap<string, Import>;
  readonly #constants = new Map<string, string>();
  readonly #module: ParsedModule;
  readonly #imported: Imported;

  constructor(module: ParsedModule, imported: Imported = ofLibrary) {
    this.#module = module;
    this.#imported = imported;
    const statements = module.program['body'] as Node[];
    this.#imports = importsOf(module.program);
    this.aliases = statements.flatMap(statement => this.#alias(statement) ?? []);
  }

  /** The export that an expression names: `markup`, `html`, `e.markup`. */
  nameOf(expression: Node): string | undefined {
    const node = bare(expression);
    if (node.type === 'MemberExpression') {
      const space = node['computed'] ? undefined : this.#importOf(node['object']);
      return space?.name === '*' ? this.#imported(space.from)?.(node['property']['name']) : undefined;
    }
    if (node.type !== 'Identifier') return undefined;
    const constant = this.#constants.get(node['name']);
    if (constant !== undefined) return constant;
    const found = this.#importOf(node);
    return found && found.name !== '*' ? this.#imported(found.from)?.(found.name) : undefined;
  }

  /** The export that makes a template: `markup`, also of `markup.svg`. */
  templateOf(template: Node): string | undefined {
    const tag = bare(template['tag']);
    return this.nameOf(tag) ?? (tag.type === 'MemberExpression' ? this.nameOf(tag['object']) : undefined);
  }

  #importOf(expression: Node): Import | undefined {
    const node = bare(expression);
    if (node.type !== 'Identifier') return undefined;
    const isHidden = this.#module.bound
      .get(node['name'])
      ?.some(([start, end]) => start <= node.start && node.start < end);
    return isHidden ? undefined : this.#imports.get(node['name']);
  }

  /** `const html = markup`, and `const { markup: html } = e` of a namespace. */
  #alias(statement: Node): Alias | undefined {
    const isExported = statement.type === 'ExportNamedDeclaration';
    const declaration = isExported ? (statement['declaration'] as Node | null) : statement;
    if (declaration?.type !== 'VariableDeclaration' || declaration['kind'] !== 'const') return undefined;
    const names = new Map<string, string>();
    let isWhole = !isExported;
    for (const { id, init } of declaration['declarations'] as { id: Node; init: Node | null }[]) {
      const found = init ? this.#taken(id, bare(init)) : undefined;
      if (!found) isWhole = false;
      // Bound once: nothing hides it.
      for (const [local, name] of found ?? [])
        if (this.#module.bound.get(local)?.length === 1) {
          names.set(local, name);
          this.#constants.set(local, name);
        } else isWhole = false;
    }
    return isWhole ? { statement, names } : undefined;
  }

  /** The local names that a declarator makes for exports of the library; undefined if it makes others. */
  #taken(id: Node, init: Node): Map<string, string> | undefined {
    if (id.type === 'Identifier') {
      const name = this.nameOf(init);
      return name === undefined ? undefined : new Map([[id['name'], name]]);
    }
    const space = id.type === 'ObjectPattern' ? this.#importOf(init) : undefined;
    if (space?.name !== '*') return undefined;
    const names = new Map<string, string>();
    for (const { type, key, value, computed } of id['properties'] as Node[]) {
      const name =
        type === 'Property' && !computed && value.type === 'Identifier'
          ? this.#imported(space.from)?.(textOf(key))
          : undefined;
      if (name === undefined) return undefined;
      names.set(value['name'], name);
    }
    return names;
  }
}
