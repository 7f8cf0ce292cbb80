/** The names that types refer to: found in their modules, and declared beside an element or imported from a package. */
import { createRequire } from 'node:module';
import { dirname, isAbsolute, join } from 'node:path';
import { identifierPattern } from '../project/identifier-pattern.ts';
import { libraryFolder } from '../project/library.ts';
import { resolveSource } from '../project/resolve-source.ts';
import { type Node, parseModule, walk } from '../project/syntax.ts';
import type { TypeDeclaration } from './description.ts';
import type { EmittedTexts } from './emitted.ts';

/** A source, or declarations. */
export interface TypeModule {
  /** The path of the source. */
  readonly file: string;
  readonly code: string;
  readonly body: readonly Node[];
  /** Whether it consists of declarations, in which every type is written. */
  readonly isEmitted: boolean;
}

interface Replacement {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

export class TypeNames {
  /** By the name in the output. An empty text is being made. */
  readonly #found = new Map<string, TypeDeclaration>();
  /** By module and name there: the name in the output. */
  readonly #names = new Map<string, string>();
  /** By specifier. */
  readonly #packages = new Map<string, Set<string>>();
  #isWhole = true;

  /** The class whose types these are: it is declared beside them. */
  own: Node | undefined;

  /** @param read reads the module of a file. */
  constructor(
    readonly read: (file: string) => TypeModule,
    readonly emitted: EmittedTexts,
  ) {}

  /** Whether each name was found with its declaration. */
  get isWhole(): boolean {
    return this.#isWhole;
  }

  /** Imports from packages first; declarations of elements have their place. */
  declarations(): TypeDeclaration[] {
    const imports = [...this.#packages].map(([from, names]) => ({
      name: '',
      code: `import type { ${[...names].sort().join(', ')} } from '${from}';`,
    }));
    return [...imports, ...this.#found.values()];
  }

  /** A type, or a declaration, as text in one line, with the names that it has in the output. */
  text(node: Node, module: TypeModule): string {
    return this.#text(node, module).replace(/\s+/g, ' ');
  }

  #text(node: Node, module: TypeModule): string {
    const replaced: Replacement[] = [];
    walk(node, (inner, parents) => {
      // `{ name: string; }` becomes `{ name: string }`, as people write it in one line.
      const last = inner.type === 'TSTypeLiteral' ? (inner['members'] as Node[]).at(-1) : undefined;
      if (last && module.code[last.end - 1] === ';') replaced.push({ start: last.end - 1, end: last.end, text: '' });
      if (inner.type === 'TSImportType') replaced.push(this.#imported(inner, parents.at(-1), module));
      const name = referenceOf(inner);
      if (name) replaced.push(this.#inNamespace(inner, name, module) ?? this.#named(name, module));
    });
    replaced.sort((a, b) => a.start - b.start);
    let text = '';
    let at = node.start;
    for (const { start, end, text: by } of replaced) {
      text += module.code.slice(at, start) + by;
      at = end;
    }
    return text + module.code.slice(at, node.end);
  }

  /** `import('./shapes.ts').Hive` becomes a name. */
  #imported(node: Node, above: Node | undefined, module: TypeModule): Replacement {
    let name = node['qualifier'] as Node | null;
    while (name?.type === 'TSQualifiedName') name = name['left'] as Node;
    // A whole module cannot be declared.
    const whole = above?.type === 'TSTypeQuery' ? above : node;
    if (!name) return { start: whole.start, end: node.end, text: 'unknown' };
    const text = this.#exportOf(node['source']['value'] as string, name['name'] as string, name['name'], module);
    return { start: node.start, end: name.end, text };
  }

  #named(name: Node, module: TypeModule): Replacement {
    return { start: name.start, end: name.end, text: this.nameOf(name['name'], module) };
  }

  /** `shapes.Hive` becomes a name, if `shapes` stands for a module of the project. */
  #inNamespace(reference: Node, first: Node, module: TypeModule): Replacement | undefined {
    const qualified = (reference['typeName'] ?? reference['exprName']) as Node | undefined;
    if (qualified?.type !== 'TSQualifiedName' || qualified['left'] !== first) return undefined;
    const statement = module.body.find(
      ({ type, specifiers }) =>
        type === 'ImportDeclaration' &&
        (specifiers as Node[]).some(
          ({ type, local }) => type === 'ImportNamespaceSpecifier' && local['name'] === first['name'],
        ),
    );
    const from = statement?.['source']['value'] as string | undefined;
    if (from === undefined || this.resolve(from, module.file) === undefined) return undefined;
    const name = qualified['right']['name'] as string;
    return { start: qualified.start, end: qualified.end, text: this.#exportOf(from, name, name, module) };
  }

  /** The name in the output of a name in a module. */
  nameOf(name: string, module: TypeModule): string {
    const key = `${module.file}\0${name}`;
    const known = this.#names.get(key);
    if (known !== undefined) return known;
    // Names of the language and of the DOM, and type parameters.
    this.#names.set(key, name);
    for (const statement of module.body) {
      const declared = this.#declared(statement, name, module, key);
      if (declared !== undefined) return declared;
    }
    return name;
  }

  #declared(statement: Node, name: string, module: TypeModule, key: string): string | undefined {
    if (statement.type === 'ImportDeclaration') return this.#fromImport(statement, name, module, key);
    const declaration = (statement['declaration'] as Node | null) ?? statement;
    const isNamed = declaration['id']?.['name'] === name;
    if (/^Class/.test(declaration.type) && isNamed)
      return declaration === this.own ? name : this.#class(declaration, name, module, key);
    if (/^TS(?:Interface|TypeAlias|Enum)Declaration$/.test(declaration.type) && isNamed)
      return this.#declare(name, key, () => {
        const ambient = declaration.type === 'TSEnumDeclaration' ? 'declare ' : '';
        return `export ${ambient}${this.#text(declaration, module).replace(/^declare /, '')}`;
      });
    if (isNamed && /Function/.test(declaration.type)) {
      if (module.isEmitted)
        return this.#declare(name, key, () => `export ${this.#text(declaration, module).replace(/^export /, '')}`);
      this.#isWhole = false;
      return this.#declare(name, key, () => `export declare function ${name}(...given: never[]): unknown;`);
    }
    if (declaration.type !== 'VariableDeclaration') return undefined;
    const variable = (declaration['declarations'] as Node[]).find(({ id }) => id['name'] === name);
    return (
      variable && this.#declare(name, key, () => `export declare const ${name}: ${this.#constType(variable, module)};`)
    );
  }

  #fromImport(statement: Node, name: string, module: TypeModule, key: string): string | undefined {
    const specifier = (statement['specifiers'] as Node[]).find(({ local }) => local['name'] === name);
    if (!specifier) return undefined;
    const from = statement['source']['value'] as string;
    if (specifier.type === 'ImportNamespaceSpecifier') {
      // A namespace is imported, and cannot be exported.
      if (this.resolve(from, module.file) === undefined)
        this.#found.set(`* ${name}`, { name: '', code: `import type * as ${name} from '${from}';` });
      return name;
    }
    const imported =
      specifier.type === 'ImportDefaultSpecifier' ? 'default' : (specifier['imported']['name'] as string);
    const found = this.#exportOf(from, imported, name, module);
    this.#names.set(key, found);
    return found;
  }

  /** The name in the output of what another module exports. @param local its name here. */
  #exportOf(from: string, exported: string, local: string, module: TypeModule): string {
    const file = this.resolve(from, module.file);
    if (file === undefined) {
      const names = this.#packages.get(from) ?? new Set();
      this.#packages.set(from, names.add(exported === local ? local : `${exported} as ${local}`));
      return local;
    }
    const other = this.read(file);
    for (const statement of other.body) {
      if (statement.type !== 'ExportNamedDeclaration' && statement.type !== 'ExportAllDeclaration') {
        const isDefault = statement.type === 'ExportDefaultDeclaration' && exported === 'default';
        const name = isDefault && (statement['declaration']['id']?.['name'] ?? statement['declaration']['name']);
        if (name) return this.nameOf(name, other);
        continue;
      }
      const passed = (statement['specifiers'] as Node[] | undefined)?.find(
        specifier => (specifier['exported']['name'] ?? specifier['exported']['value']) === exported,
      );
      if (!passed) continue;
      const inside = passed['local']['name'] as string;
      return statement['source']
        ? this.#exportOf(statement['source']['value'], inside, inside, other)
        : this.nameOf(inside, other);
    }
    if (declares(other, exported)) return this.nameOf(exported, other);
    for (const statement of other.body) {
      if (statement.type !== 'ExportAllDeclaration') continue;
      const further = this.resolve(statement['source']['value'], other.file);
      if (further !== undefined && exportsName(this.read(further), exported))
        return this.#exportOf(statement['source']['value'], exported, local, other);
    }
    return this.nameOf(exported, other);
  }

  /** A class of the project: an element has its own file of declarations, another class is declared here. */
  #class(declaration: Node, name: string, module: TypeModule, key: string): string {
    const parent = declaration['superClass'] as Node | null;
    const isElement = parent !== null && (!module.isEmitted || extendsContract(parent, module));
    if (module.isEmitted && !isElement)
      return this.#declare(name, key, () => {
        const text = this.#text(declaration, module);
        return `export ${text.replace(/^(?:export )?(?:default )?/, '').replace(/^(?!declare )/, 'declare ')}`;
      });
    this.#isWhole &&= module.isEmitted;
    const parameters = declaration['typeParameters'] as Node | null;
    const generics = parameters ? module.code.slice(parameters.start, parameters.end) : '';
    return this.#declare(name, key, () => `export type ${name}${generics} = ${isElement ? 'HTMLElement' : 'object'};`, {
      file: module.file,
      exportName: name,
    });
  }

  /** Declares a name once. One that another module has declared gets a number. */
  #declare(name: string, key: string, code: () => string, element?: TypeDeclaration['element']): string {
    let own = name;
    for (let count = 2; this.#found.has(own); count++) own = `${name}${count}`;
    this.#names.set(key, own);
    this.#found.set(own, { name: own, code: '' });
    // TypeScript emits four spaces, the other declarations have two.
    const text = code().replace(/^(?: {4})+/gm, indentation => indentation.slice(indentation.length / 2));
    const renamed = own === name ? text : text.replace(identifierPattern(name), () => own);
    this.#found.set(own, { name: own, code: renamed, ...(element ? { element } : {}) });
    return own;
  }

  /** The type of a constant in a `typeof` type: as annotated, or from its literals. */
  #constType({ id, init }: Node, module: TypeModule): string {
    if (id['typeAnnotation']) return this.#text(id['typeAnnotation']['typeAnnotation'], module);
    this.#isWhole = false;
    const value = init as Node | null;
    const array = value && (/^TS(?:As|Satisfies)Expression$/.test(value.type) ? (value['expression'] as Node) : value);
    if (array?.type !== 'ArrayExpression') return 'unknown';
    const items = array['elements'] as (Node | null)[];
    if (!items.every(item => item?.type === 'Literal')) return 'readonly unknown[]';
    return `readonly [${items.map(item => module.code.slice(item!.start, item!.end)).join(', ')}]`;
  }

  /** @returns the source that a specifier leads to; undefined for a package. */
  resolve(specifier: string, file: string): string | undefined {
    if (specifier.startsWith('.')) return resolveSource(join(dirname(file), specifier));
    // The output does not depend on the library.
    const [, entry = 'index'] = /^eltrix(?:\/([\w-]+))?$/.exec(specifier) ?? [undefined, ''];
    if (entry) return resolveSource(join(libraryFolder(), 'dist/types', `${entry}.d.ts`));
    for (const target of this.emitted.targetsOf(specifier)) {
      const source = resolveSource(target);
      if (source) return source;
    }
    if (!specifier.startsWith('#')) return undefined;
    try {
      const path = createRequire(file).resolve(specifier);
      return isAbsolute(path) ? resolveSource(path) : undefined;
    } catch {
      return undefined;
    }
  }
}

/** The members of an interface, referring to types by other names. */
export function renameTypes(members: string, names: ReadonlyMap<string, string>): string {
  const head = 'interface Members {\n';
  const code = `${head}${members}}`;
  const found: Node[] = [];
  const module = parseModule('members.ts', code);
  if (!module) return members;
  walk(module.program, node => {
    const reference = referenceOf(node);
    if (reference && names.has(reference['name'])) found.push(reference);
  });
  const renamed = found
    .sort((a, b) => b.start - a.start)
    .reduce((text, { start, end, name }) => text.slice(0, start) + names.get(name)! + text.slice(end), code);
  return renamed.slice(head.length, -1);
}

/** The identifier of a reference to a type, or to a value in `typeof` and in `[key]`. */
function referenceOf(node: Node): Node | undefined {
  let name: Node | undefined;
  if (node.type === 'TSTypeReference') name = node['typeName'];
  else if (/^TS(?:InterfaceHeritage|ClassImplements)$/.test(node.type)) name = node['expression'];
  else if (node.type === 'TSTypeQuery') name = node['exprName'];
  else if (/^Class/.test(node.type)) name = node['superClass'] ?? undefined;
  else if (node['computed'] === true) name = node['key'];
  while (name?.type === 'TSQualifiedName' || name?.type === 'MemberExpression')
    name = (name['left'] ?? name['object']) as Node;
  return name?.type === 'Identifier' ? name : undefined;
}

/** Whether a class made from an expression is an element, in emitted declarations. */
function extendsContract(parent: Node, module: TypeModule): boolean {
  for (const statement of module.body) {
    if (statement.type !== 'VariableDeclaration') continue;
    for (const { id } of statement['declarations'] as { id: Node }[]) {
      if (id['name'] !== parent['name'] || !id['typeAnnotation']) continue;
      let isContract = false;
      walk(id['typeAnnotation'], node => {
        const name = node['qualifier'] ?? node['typeName'];
        isContract ||= name?.['name'] === 'ContractClass';
      });
      return isContract;
    }
  }
  // The class that it extends may be an element of another module.
  return /^HTML\w*Element$/.test(parent['name'] ?? '') || isImported(parent['name'], module);
}

const isImported = (name: string, { body }: TypeModule) =>
  body.some(
    ({ type, specifiers }) =>
      type === 'ImportDeclaration' && (specifiers as Node[]).some(({ local }) => local['name'] === name),
  );

const declares = ({ body }: TypeModule, name: string) =>
  body.some(statement => {
    const declaration = (statement['declaration'] as Node | null) ?? statement;
    return (
      declaration['id']?.['name'] === name ||
      (declaration.type === 'VariableDeclaration' &&
        (declaration['declarations'] as Node[]).some(({ id }) => id['name'] === name))
    );
  });

const exportsName = (module: TypeModule, name: string) =>
  declares(module, name) ||
  module.body.some(({ specifiers }) =>
    (specifiers as Node[] | undefined)?.some(({ exported }) => exported?.['name'] === name),
  );
