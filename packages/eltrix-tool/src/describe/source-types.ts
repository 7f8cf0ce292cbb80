/** The types that are written in an element's source: of its properties, events and public methods. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { textOf } from '../project/seen.ts';
import { bare, fieldsOf, keyOf, type Node, parseModule, walk } from '../project/syntax.ts';
import type { MethodDescription, ParameterDescription, TypeDeclaration } from './description.ts';

const hooks = new Set(
  'view assembled connected disconnected moved adopted attributeChanged propertyChanged formAssociated formDisabled formReset formStateRestore formValue validate connectedCallback disconnectedCallback adoptedCallback attributeChangedCallback connectedMoveCallback'.split(
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
  readonly #exportName: string;
  /** The types of the parent class. */
  readonly #base: SourceTypes | undefined;
  /** Packages that the types are imported from. */
  readonly #packages = new Map<string, Set<string>>();

  /** The files that were read, with their texts. */
  readonly inputs = new Map<string, string>();

  /** @param isBase whether it is the parent of the described class. */
  constructor(
    file: string,
    exportName: string,
    readonly isBase = false,
  ) {
    this.#exportName = exportName;
    this.#module = this.#read(file);
    this.#class = classNamed(this.#module.body, exportName);
    const call = this.#class?.['superClass'] ? contractCall(this.#class['superClass']) : undefined;
    const [, declaration, parent] = (call?.['arguments'] ?? []) as Node[];
    this.#declaration = (declaration && fieldsOf(bare(declaration))) ?? new Map();
    this.#base = this.#classOf(call ? parent : this.#class?.['superClass']);
  }

  /** Reads the types of the class that an expression names. */
  #classOf(expression: Node | null | undefined): SourceTypes | undefined {
    const name =
      expression && bare(expression).type === 'Identifier' ? (bare(expression)['name'] as string) : undefined;
    if (name === undefined || name === this.#exportName) return undefined;
    const { file, body } = this.#module;
    if (classNamed(body, name)) return this.#typesOf(file, name);
    for (const statement of body) {
      if (statement.type !== 'ImportDeclaration') continue;
      const from = statement['source']['value'] as string;
      const specifier = (statement['specifiers'] as Node[]).find(({ local }) => local['name'] === name);
      if (!specifier || !from.startsWith('.') || specifier.type === 'ImportNamespaceSpecifier') continue;
      const path = resolveSource(join(dirname(file), from));
      const imported = specifier.type === 'ImportSpecifier' ? (specifier['imported']['name'] as string) : 'default';
      return path ? this.#typesOf(path, imported) : undefined;
    }
    return undefined;
  }

  #typesOf(file: string, name: string): SourceTypes {
    const base = new SourceTypes(file, name, true);
    for (const [path, code] of base.inputs) this.inputs.set(path, code);
    return base;
  }

  /** The type of a property whose kind does not determine it. */
  propertyType(name: string): string {
    const node = this.#entry('properties', name) ?? this.#entry('attributes', name);
    if (!node && this.#base) return this.#base.propertyType(name);
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
    if (!node && this.#base) return this.#base.detailOf(type);
    return (node?.type === 'CallExpression' ? this.#typeArgument(node) : undefined) ?? 'null';
  }

  /** The public methods, accessors and fields of the class itself, static ones included. */
  methods(): MethodDescription[] {
    const own = this.#members();
    const names = new Set(own.map(({ name, isStatic }) => `${isStatic} ${name}`));
    const above = this.#base?.methods().filter(({ name, isStatic }) => !names.has(`${isStatic} ${name}`)) ?? [];
    return [...own, ...above];
  }

  #members(): MethodDescription[] {
    const members = ((this.#class?.['body']['body'] ?? []) as Node[]).filter(isPublic);
    const setters = new Set(members.filter(({ kind }) => kind === 'set').map(nameOf));
    return members.flatMap((member): MethodDescription[] => {
      const name = keyOf(member)!;
      const common = { name, about: this.#commentBefore(member), isStatic: member['static'] === true };
      if (member.type === 'PropertyDefinition')
        return [
          { ...common, parameters: '', returns: this.#fieldType(member), kind: member['readonly'] ? 'reads' : 'field' },
        ];
      const fn = member['value'] as Node;
      if (member['kind'] === 'set') {
        if (members.some(other => other['kind'] === 'get' && nameOf(other) === nameOf(member))) return [];
        return [{ ...common, parameters: '', returns: this.#annotated(fn['params'][0]) ?? 'unknown', kind: 'field' }];
      }
      if (member['kind'] === 'get')
        return [
          {
            ...common,
            parameters: '',
            returns: this.#returns(fn),
            kind: setters.has(nameOf(member)) ? 'field' : 'reads',
          },
        ];
      const generics = fn['typeParameters'] as Node | null;
      const parameters = (fn['params'] as Node[])
        // TypeScript's `this` is not a parameter.
        .filter(param => param['name'] !== 'this')
        .map(param => this.#parameter(param));
      return [
        {
          ...common,
          parameters: `${generics ? this.#type(generics) : ''}(${parameters.map(print).join(', ')})`,
          list: parameters,
          returns: this.#returns(fn),
          kind: 'method',
        },
      ];
    });
  }

  #fieldType(member: Node): string {
    const annotation = member['typeAnnotation'] as Node | null;
    if (annotation) return this.#type(annotation['typeAnnotation']);
    return (member['value'] && this.#valueType(bare(member['value']))) ?? 'unknown';
  }

  #annotated(param: Node | undefined): string | undefined {
    const annotation = param?.['typeAnnotation'] as Node | undefined;
    return annotation && this.#type(annotation['typeAnnotation']);
  }

  /** The return type of a function: as annotated, or inferred from simple code. */
  #returns(fn: Node): string {
    if (fn['returnType']) return this.#type(fn['returnType']['typeAnnotation']);
    if (fn['generator']) return 'unknown';
    const type = this.#bodyType(fn) ?? 'unknown';
    return fn['async'] ? `Promise<${type}>` : type;
  }

  #bodyType(fn: Node): string | undefined {
    const body = fn['body'] as Node | null;
    if (!body) return undefined;
    if (body.type !== 'BlockStatement') return this.#valueType(bare(body));
    const returned: (Node | null)[] = [];
    walk(body, node => {
      if (/Function|^Class/.test(node.type)) return false;
      if (node.type === 'ReturnStatement') returned.push(node['argument']);
      return true;
    });
    if (returned.every(value => value === null)) return 'void';
    const types = returned.map(value => (value ? this.#valueType(bare(value)) : 'undefined'));
    return types.every(type => type === types[0]) ? types[0] : undefined;
  }

  /** The type of a simple expression. */
  #valueType(node: Node): string | undefined {
    if (/^TS(?:As|Satisfies)Expression$/.test(node.type)) return this.#type(node['typeAnnotation']);
    if (node.type === 'TemplateLiteral') return 'string';
    if (node.type === 'Literal' && /^(?:string|number|boolean)$/.test(typeof node['value']))
      return typeof node['value'];
    if (node.type === 'UnaryExpression')
      return { '!': 'boolean', typeof: 'string', void: 'undefined' }[node['operator'] as string];
    if (node.type === 'BinaryExpression' && /^(?:[=!]==?|[<>]=?|in|instanceof)$/.test(node['operator']))
      return 'boolean';
    if (node.type === 'NewExpression' && node['callee'].type === 'Identifier') {
      const args = (node['typeArguments']?.['params'] ?? []) as Node[];
      const name = node['callee'].name as string;
      if (args.length === 0 && /^(?:Map|Set|WeakMap|WeakSet|Promise|Array)$/.test(name)) return undefined;
      this.#find(name, this.#module);
      return `${name}${args.length ? `<${args.map(arg => this.#type(arg)).join(', ')}>` : ''}`;
    }
    if (node.type === 'ConditionalExpression') {
      const [first, second] = [node['consequent'], node['alternate']].map(part => this.#valueType(bare(part)));
      const isNull = (part: Node) => bare(part).type === 'Literal' && bare(part)['value'] === null;
      if (isNull(node['consequent'])) return second && `${second} | null`;
      if (isNull(node['alternate'])) return first && `${first} | null`;
      return first === second ? first : undefined;
    }
    return undefined;
  }

  /** The declarations that the types refer to, in order of appearance; imports from packages first. */
  declarations(): TypeDeclaration[] {
    const imports = [...this.#packages].map(([from, names]) => ({
      name: '',
      code: `import type { ${[...names].sort().join(', ')} } from '${from}';`,
    }));
    const found = [...this.#found].filter(([, code]) => code !== '');
    const own = [
      ...imports,
      // A namespace is imported, and cannot be exported.
      ...found.map(([name, code]) => ({ name: code.startsWith('import') ? '' : name, code })),
    ];
    const isOwn = ({ name, code }: TypeDeclaration) =>
      own.some(other => (name === '' ? other.code === code : other.name === name));
    return [...own, ...(this.#base?.declarations() ?? []).filter(other => !isOwn(other))];
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

  /** The return type of a function that creates a value, in simple cases. */
  #madeType(fn: Node): string | undefined {
    const parse = fn.type === 'ObjectExpression' ? fieldsOf(fn)?.get('parse') : undefined;
    if (parse) return this.#madeType(bare(parse['value']));
    if (!/Function/.test(fn.type)) return undefined;
    const type = this.#returns(fn);
    return type === 'unknown' ? undefined : type;
  }

  #parameter(param: Node): ParameterDescription {
    // `constructor(private x)` is not allowed in a type, but defaults and rest parameters are.
    const target = param.type === 'AssignmentPattern' ? (param['left'] as Node) : param;
    const inner = target.type === 'RestElement' ? (target['argument'] as Node) : target;
    const given = param.type === 'AssignmentPattern' ? this.#valueType(bare(param['right'])) : undefined;
    return {
      name: inner.type === 'Identifier' ? (inner['name'] as string) : 'given',
      type: this.#annotated(target) ?? this.#annotated(inner) ?? given ?? 'unknown',
      optional: param.type === 'AssignmentPattern' || target['optional'] === true,
      rest: target.type === 'RestElement',
    };
  }

  /** A type as text, with its references resolved. */
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
      // The class itself is declared beside them.
      if (declaration === this.#class && !this.isBase && declaration['id']?.['name'] === name) return;
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
        if (specifier['local']['name'] !== name) continue;
        const from = statement['source']['value'] as string;
        if (specifier.type === 'ImportNamespaceSpecifier') {
          if (!from.startsWith('.')) this.#found.set(name, `import type * as ${name} from '${from}';`);
          return;
        }
        const imported =
          specifier.type === 'ImportDefaultSpecifier' ? 'default' : (specifier['imported']['name'] as string);
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

  /** The type of a constant in a `typeof` type: as annotated, or from its literals. */
  #constType({ id, init }: Node, module: Module): string {
    if (id['typeAnnotation']) return this.#type(id['typeAnnotation']['typeAnnotation'], module);
    const value = init && bare(init);
    if (value?.type !== 'ArrayExpression') return 'unknown';
    const items = value['elements'] as (Node | null)[];
    if (!items.every(item => item?.type === 'Literal')) return 'readonly unknown[]';
    return `readonly [${items.map(item => module.code.slice(item!.start, item!.end)).join(', ')}]`;
  }

  /** The first sentences of the comment before a member. */
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

/** The call of `contract()` with a tag, also inside mixins. */
function contractCall(above: Node): Node | undefined {
  const call = bare(above);
  if (call.type !== 'CallExpression') return undefined;
  const [tag, ...more] = call['arguments'] as Node[];
  if (tag && more.length > 0 && bare(tag).type !== 'CallExpression') return call;
  return tag ? contractCall(tag) : undefined;
}

const nameOf = (member: Node) => `${member['static'] ? 'static ' : ''}${keyOf(member)}`;

/** Members that the library calls. */
const ownStatics = new Set(['styleSheets', 'observedAttributes', 'formAssociated', 'define']);

/** Whether a member is public. */
function isPublic(member: Node): boolean {
  const name = keyOf(member);
  if (name === undefined || !/^(?:Method|Property)Definition$/.test(member.type)) return false;
  if (member['kind'] === 'constructor' || name.startsWith('_') || member['declare'] || member['override']) return false;
  if (/^(?:private|protected)$/.test(member['accessibility'] ?? '')) return false;
  return member['static'] ? !ownStatics.has(name) : !hooks.has(name);
}

const print = ({ name, type, optional, rest }: ParameterDescription) =>
  `${rest ? '...' : ''}${name}${optional ? '?' : ''}: ${type}`;

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

/** The source file of an import. */
function resolveSource(path: string): string | undefined {
  const candidates = [path, path.replace(/\.js$/, '.ts'), `${path}.ts`, `${path}.d.ts`, join(path, 'index.ts')];
  return candidates.find(candidate => /\.[cm]?[jt]sx?$/.test(candidate) && existsSync(candidate));
}
