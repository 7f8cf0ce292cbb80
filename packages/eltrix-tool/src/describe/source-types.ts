/** The types that an element's source states in so many words: of its properties, events and public methods. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { textOf } from '../project/seen.ts';
import { bare, fieldsOf, keyOf, type Node, parseModule, walk } from '../project/syntax.ts';
import type { MethodDescription, TypeDeclaration } from './description.ts';

const hooks = new Set(
  'view assembled connected disconnected moved adopted attributeChanged formAssociated formDisabled formReset formStateRestore formValue validate connectedCallback disconnectedCallback adoptedCallback attributeChangedCallback connectedMoveCallback'.split(
    ' ',
  ),
);

interface Module {
  readonly file: string;
  readonly code: string;
  readonly body: readonly Node[];
}

export class SourceTypes {
  readonly #module: Module;
  readonly #class: Node | undefined;
  readonly #declaration: ReadonlyMap<string, Node>;
  readonly #found = new Map<string, string>();
  /** Packages that types come from. */
  readonly #packages = new Map<string, Set<string>>();

  /** All files that were read, and what stood in them. */
  readonly inputs = new Map<string, string>();

  constructor(file: string, exportName: string) {
    this.#module = this.#read(file);
    this.#class = classNamed(this.#module.body, exportName);
    const call = this.#class && bare(this.#class['superClass']);
    const argument = call?.type === 'CallExpression' ? (call['arguments'] as Node[])[1] : undefined;
    this.#declaration = (argument && fieldsOf(bare(argument))) ?? new Map();
  }

  /** The type of a property whose kind does not tell. */
  propertyType(name: string): string {
    const node = this.#entry('properties', name) ?? this.#entry('attributes', name);
    if (node?.type !== 'CallExpression') return 'unknown';
    const stated = this.#typeArgument(node);
    if (stated) return stated;
    const [first] = node['arguments'] as Node[];
    const made = first && this.#madeType(bare(first));
    return made ?? 'unknown';
  }

  /** The type of an event's detail. */
  detailOf(type: string): string {
    const node = this.#entry('events', type);
    return (node?.type === 'CallExpression' ? this.#typeArgument(node) : undefined) ?? 'null';
  }

  /** The public methods and reading accessors of the class itself. */
  methods(): MethodDescription[] {
    const methods: MethodDescription[] = [];
    for (const member of (this.#class?.['body']['body'] ?? []) as Node[]) {
      const name = keyOf(member);
      if (name === undefined || member.type !== 'MethodDefinition' || member['static']) continue;
      if (hooks.has(name) || member['kind'] === 'constructor' || member['kind'] === 'set') continue;
      if (member['key'].type === 'PrivateIdentifier' || /^(?:private|protected)$/.test(member['accessibility'] ?? ''))
        continue;
      const fn = member['value'] as Node;
      const parameters = (fn['params'] as Node[]).map(param => this.#parameter(param)).join(', ');
      const returns = fn['returnType'] ? this.#type(fn['returnType']['typeAnnotation']) : 'unknown';
      methods.push({
        name,
        about: this.#commentBefore(member),
        parameters: `(${parameters})`,
        returns,
        isGetter: member['kind'] === 'get',
      });
    }
    return methods;
  }

  /** What the types above name, in the order of their finding; imports from packages first. */
  declarations(): TypeDeclaration[] {
    const imports = [...this.#packages].map(([from, names]) => ({
      name: '',
      code: `import type { ${[...names].sort().join(', ')} } from '${from}';`,
    }));
    return [...imports, ...[...this.#found].map(([name, code]) => ({ name, code }))];
  }

  #read(file: string): Module {
    const code = textOf(file);
    this.inputs.set(file, code);
    return { file, code, body: (parseModule(file, code)?.program['body'] ?? []) as Node[] };
  }

  #entry(group: string, name: string): Node | undefined {
    const fields = this.#declaration.get(group);
    const entry = fields && fieldsOf(bare(fields['value']))?.get(name);
    return entry && bare(entry['value']);
  }

  #typeArgument(call: Node): string | undefined {
    const [argument] = (call['typeArguments']?.['params'] ?? []) as Node[];
    return argument && this.#type(argument);
  }

  /** The type of what a function makes, where it is plain to see. */
  #madeType(fn: Node): string | undefined {
    const parse = fn.type === 'ObjectExpression' ? fieldsOf(fn)?.get('parse') : undefined;
    if (parse) return this.#madeType(bare(parse['value']));
    if (!/Function/.test(fn.type)) return undefined;
    if (fn['returnType']) return this.#type(fn['returnType']['typeAnnotation']);
    let body = fn['body'] as Node;
    while (body.type === 'ParenthesizedExpression') body = body['expression'];
    if (/^TS(?:As|Satisfies)Expression$/.test(body.type)) return this.#type(body['typeAnnotation']);
    if (body.type === 'NewExpression' && body['callee'].type === 'Identifier') {
      const args = (body['typeArguments']?.['params'] ?? []) as Node[];
      return `${body['callee'].name}${args.length ? `<${args.map(arg => this.#type(arg)).join(', ')}>` : ''}`;
    }
    if (body.type === 'Literal' && body['value'] !== null && /^(?:string|number|boolean)$/.test(typeof body['value']))
      return typeof body['value'];
    return undefined;
  }

  #parameter(param: Node): string {
    const target = param.type === 'AssignmentPattern' ? (param['left'] as Node) : param;
    const inner = target.type === 'RestElement' ? (target['argument'] as Node) : target;
    const annotation = (target['typeAnnotation'] ?? inner['typeAnnotation']) as Node | undefined;
    const name = inner.type === 'Identifier' ? (inner['name'] as string) : 'given';
    const optional = param.type === 'AssignmentPattern' || target['optional'] ? '?' : '';
    const rest = target.type === 'RestElement' ? '...' : '';
    return `${rest}${name}${optional}: ${annotation ? this.#type(annotation['typeAnnotation']) : 'unknown'}`;
  }

  /** A type as text; what it names is looked up. */
  #type(node: Node, module = this.#module): string {
    this.#lookUp(node, module);
    return module.code.slice(node.start, node.end).replace(/\s+/g, ' ');
  }

  #lookUp(node: Node, module: Module): void {
    walk(node, inner => {
      if (inner.type !== 'TSTypeReference' && inner.type !== 'TSInterfaceHeritage' && inner.type !== 'TSTypeQuery')
        return;
      let name = (inner['typeName'] ?? inner['expression'] ?? inner['exprName']) as Node;
      while (name.type === 'TSQualifiedName') name = name['left'];
      if (name.type === 'Identifier') this.#find(name['name'], module);
    });
  }

  #find(name: string, module: Module): void {
    if (this.#found.has(name)) return;
    for (const statement of module.body) {
      const declaration = (statement['declaration'] as Node | null) ?? statement;
      if (/^TS(?:Interface|TypeAlias|Enum)Declaration$/.test(declaration.type) && declaration['id']['name'] === name) {
        this.#found.set(name, '');
        const text = module.code.slice(declaration.start, declaration.end);
        this.#lookUp(declaration, module);
        const ambient = declaration.type === 'TSEnumDeclaration' ? 'declare ' : '';
        this.#found.set(name, `export ${ambient}${text.replace(/^declare /, '')}`);
        return;
      }
      if (/^Class/.test(declaration.type) && declaration['id']?.['name'] === name) {
        this.#found.set(name, `export type ${name} = HTMLElement;`);
        return;
      }
      if (declaration.type === 'VariableDeclaration') {
        const variable = (declaration['declarations'] as Node[]).find(({ id }) => id['name'] === name);
        if (variable)
          return void this.#found.set(name, `export declare const ${name}: ${this.#constType(variable, module)};`);
      }
      if (statement.type !== 'ImportDeclaration') continue;
      for (const specifier of statement['specifiers'] as Node[]) {
        if (specifier['local']['name'] !== name || specifier.type !== 'ImportSpecifier') continue;
        const from = statement['source']['value'] as string;
        const imported = specifier['imported']['name'] as string;
        if (!from.startsWith('.')) {
          this.#packages.set(
            from,
            (this.#packages.get(from) ?? new Set()).add(imported === name ? name : `${imported} as ${name}`),
          );
          return;
        }
        const file = resolveSource(join(dirname(module.file), from));
        if (file) this.#find(imported, this.#read(file));
        return;
      }
    }
  }

  /** The type of a constant that another type asks for: as it is annotated, or as its literals say. */
  #constType({ id, init }: Node, module: Module): string {
    if (id['typeAnnotation']) return this.#type(id['typeAnnotation']['typeAnnotation'], module);
    const value = init && bare(init);
    if (value?.type !== 'ArrayExpression') return 'unknown';
    const items = value['elements'] as (Node | null)[];
    if (!items.every(item => item?.type === 'Literal')) return 'readonly unknown[]';
    return `readonly [${items.map(item => module.code.slice(item!.start, item!.end)).join(', ')}]`;
  }

  /** The first sentences of the comment that stands before a member. */
  #commentBefore(member: Node): string | undefined {
    const before = this.#module.code.slice(0, member.start);
    const comment = /\/\*\*((?:(?!\*\/)[^])*)\*\/\s*$/.exec(before)?.[1];
    if (!comment) return undefined;
    return (
      comment
        .replace(/^\s*\*\s?/gm, '')
        .split(/^\s*@/m)[0]!
        .replace(/\s+/g, ' ')
        .trim() || undefined
    );
  }
}

function classNamed(body: readonly Node[], exportName: string): Node | undefined {
  for (const statement of body) {
    const declaration = (statement['declaration'] as Node | null) ?? statement;
    const isDefault = statement.type === 'ExportDefaultDeclaration' && exportName === 'default';
    if (/^Class/.test(declaration.type) && (isDefault || declaration['id']?.['name'] === exportName))
      return declaration;
    if (declaration.type !== 'VariableDeclaration') continue;
    for (const { id, init } of declaration['declarations'] as { id: Node; init: Node | null }[])
      if (id['name'] === exportName && init && /^Class/.test(bare(init).type)) return bare(init);
  }
  return undefined;
}

/** The source file that an import names. */
function resolveSource(path: string): string | undefined {
  const candidates = [path, path.replace(/\.js$/, '.ts'), `${path}.ts`, `${path}.d.ts`, join(path, 'index.ts')];
  return candidates.find(candidate => /\.[cm]?[jt]sx?$/.test(candidate) && existsSync(candidate));
}
