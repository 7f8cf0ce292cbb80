/**
 * The types of an element's properties, events and public methods: as they are written in its source, or as the
 * project's TypeScript has emitted them.
 */
import { type Constant, constantsOf, valueIn } from '../project/module-constants.ts';
import { textOf } from '../project/seen.ts';
import { bare, fieldsOf, keyOf, type Node, parseModule, walk } from '../project/syntax.ts';
import {
  baseType,
  classNamed,
  commentBefore,
  contractCall,
  declarationIn,
  instanceMembers,
  isOverload,
  isPublic,
  membersOf,
  memberType,
  mixinsOf,
  nameOf,
  paramsOf,
} from './class-syntax.ts';
import type { MethodDescription, ParameterDescription, TypeDeclaration } from './description.ts';
import { EmittedTexts, nothing } from './emitted.ts';
import { type ClassPlace, exportedClass, type Follow, localClass, memberClass } from './exported-class.ts';
import { type TypeModule, TypeNames } from './type-names.ts';

export class SourceTypes {
  /** The source. */
  readonly #source: TypeModule;
  /** What TypeScript has emitted for it, or else the source. */
  readonly #module: TypeModule;
  readonly #class: Node | undefined;
  readonly #constants: ReadonlyMap<string, Constant>;
  /** Members that override those of a parent, which describes them. */
  readonly #overriding: ReadonlySet<string>;
  readonly #declaration: ReadonlyMap<string, Node>;
  /** The type of the class that is extended, as emitted. */
  readonly #emittedBase: Node | undefined;
  /** Of the class, within its module. */
  readonly #name: string;
  readonly #names: TypeNames;
  /** The types of the parent class. */
  readonly #base: SourceTypes | undefined;
  #isWhole = true;

  /** The files that were read, with their texts. */
  readonly inputs = new Map<string, string>();

  constructor(
    file: string,
    exportName: string,
    readonly emitted = new EmittedTexts(nothing),
    /** Whether it is the parent of the described class. */
    isBase = false,
  ) {
    this.#names = new TypeNames(path => this.#read(path), emitted);
    const given = this.#read(file, false);
    const { module, name } = (isBase ? localClass : exportedClass)(given, exportName, this.#follow) ?? {
      module: given,
      name: exportName,
    };
    this.#name = name;
    this.#source = module;
    this.#constants = constantsOf(module.body);
    const source = classNamed(module.body, name);
    const made = this.#read(module.file);
    const emittedClass = made.isEmitted ? classNamed(made.body, name) : undefined;
    const isEmitted = emittedClass !== undefined;
    this.#module = isEmitted ? made : module;
    this.#class = emittedClass ?? source;
    if (!isBase) this.#names.own = this.#class;
    this.#overriding = new Set(membersOf(source).flatMap(member => (member['override'] ? [nameOf(member)] : [])));
    const call = source?.['superClass'] ? contractCall(source['superClass']) : undefined;
    const [, declaration, parent] = (call?.['arguments'] ?? []) as Node[];
    this.#declaration = (declaration && this.#fieldsOf(declaration)) ?? new Map();
    this.#emittedBase = isEmitted ? baseType(made.body, this.#class!) : undefined;
    this.#base = this.#classOf(call ? parent : source?.['superClass']);
  }

  /** Whether all types are written or emitted; some are unknown otherwise. */
  get isWhole(): boolean {
    return this.#isWhole && this.#names.isWhole && (this.#base?.isWhole ?? true);
  }

  readonly #follow: Follow = (specifier, { file }) => {
    const path = this.#names.resolve(specifier, file);
    return path === undefined ? undefined : this.#read(path, false);
  };

  /** Reads the types of the class that an expression names. */
  #classOf(expression: Node | null | undefined): SourceTypes | undefined {
    const place = expression && this.#placeOf(bare(expression));
    if (!place || (place.module.file === this.#source.file && place.name === this.#name)) return undefined;
    const base = new SourceTypes(place.module.file, place.name, this.emitted, true);
    for (const [path, code] of base.inputs) this.inputs.set(path, code);
    return base;
  }

  #placeOf(expression: Node): ClassPlace | undefined {
    if (expression.type === 'Identifier') return localClass(this.#source, expression['name'], this.#follow);
    return expression.type === 'MemberExpression' ? memberClass(this.#source, expression, this.#follow) : undefined;
  }

  /** The type of a property whose kind does not determine it. */
  propertyType(name: string): string {
    const emitted = this.#emittedType('properties', name) ?? this.#emittedType('attributes', name);
    if (emitted) return emitted;
    const node = this.#entry('properties', name) ?? this.#entry('attributes', name);
    if (!node && this.#base) return this.#base.propertyType(name);
    if (node?.type !== 'CallExpression') return this.#unknown();
    const stated = this.#typeArgument(node);
    if (stated) return stated;
    const [first] = node['arguments'] as Node[];
    return (first && this.#madeType(bare(first))) ?? this.#unknown();
  }

  /** The type of an event's detail. */
  detailOf(type: string): string {
    const emitted = this.#emittedType('events', type);
    if (emitted) return emitted;
    const node = this.#entry('events', type);
    if (!node && this.#base) return this.#base.detailOf(type);
    return (node?.type === 'CallExpression' ? this.#typeArgument(node) : undefined) ?? 'null';
  }

  /** The public methods, accessors and fields of the class, those of mixins and parents included; static ones, too. */
  methods(): MethodDescription[] {
    const own = this.#described(membersOf(this.#class), this.#module);
    const mixed = mixinsOf(this.#source, path => this.#read(path, false), this.#names, this.#name).flatMap(
      ({ members, module }) => {
        const names = new Set(members.filter(isPublic).map(nameOf));
        const emitted = this.#emittedMembers().filter(member => names.has(nameOf(member)));
        return emitted.length > 0 ? this.#described(emitted, this.#module) : this.#described(members, module);
      },
    );
    const all = new Map<string, MethodDescription[]>();
    for (const list of [own, mixed, this.#base?.methods() ?? []]) {
      const present = new Set(all.keys());
      for (const member of list) {
        const key = `${member.isStatic} ${member.name}`;
        if (!present.has(key)) all.set(key, [...(all.get(key) ?? []), member]);
      }
    }
    return [...all.values()].flat();
  }

  #described(given: readonly Node[], module: TypeModule): MethodDescription[] {
    const members = given.filter(
      member => isPublic(member) && !member['override'] && !this.#overriding.has(nameOf(member)),
    );
    const setters = new Map(members.filter(({ kind }) => kind === 'set').map(member => [nameOf(member), member]));
    const overloaded = new Set(members.filter(isOverload).map(nameOf));
    return members.flatMap((member): MethodDescription[] => {
      const name = keyOf(member)!;
      const common = { name, ...commentBefore(member, module.code), isStatic: member['static'] === true };
      if (/Property/.test(member.type)) {
        const type = this.#fieldType(member, module);
        const returns = member['optional'] ? `${type} | undefined` : type;
        return [{ ...common, parameters: '', returns, kind: member['readonly'] ? 'reads' : 'field' }];
      }
      const fn = (member['value'] ?? member) as Node;
      if (member['kind'] === 'set') {
        if (members.some(other => other['kind'] === 'get' && nameOf(other) === nameOf(member))) return [];
        return [{ ...common, parameters: '', returns: this.#accepted(member, module), kind: 'field' }];
      }
      if (member['kind'] === 'get') {
        const setter = setters.get(nameOf(member));
        const returns = this.#returns(fn, module);
        const accepts = setter && paramsOf(setter)[0]?.['typeAnnotation'] ? this.#accepted(setter, module) : returns;
        const kind = setter ? 'field' : 'reads';
        return [{ ...common, parameters: '', returns, kind, ...(accepts === returns ? {} : { accepts }) }];
      }
      // The signature of the implementation is not visible beside overloads.
      if (overloaded.has(nameOf(member)) && !isOverload(member)) return [];
      const generics = fn['typeParameters'] as Node | null;
      const parameters = paramsOf(member)
        // TypeScript's `this` is not a parameter.
        .filter(param => param['name'] !== 'this')
        .map(param => this.#parameter(param, module));
      return [
        {
          ...common,
          parameters: `${generics ? this.#names.text(generics, module) : ''}(${parameters.map(print).join(', ')})`,
          list: parameters,
          returns: this.#returns(fn, module),
          kind: 'method',
        },
      ];
    });
  }

  /** The type that a setter takes. */
  #accepted(setter: Node, module: TypeModule): string {
    return this.#annotated(paramsOf(setter)[0], module) ?? this.#unknown();
  }

  /** The members of what the class is made from, as emitted: `(new (…) => { … }) & …`. */
  #emittedMembers(): Node[] {
    return this.#emittedBase ? instanceMembers(this.#emittedBase) : [];
  }

  /** The declarations that the types refer to, in order of appearance; imports from packages first. */
  declarations(): TypeDeclaration[] {
    const own = this.#names.declarations();
    const isOwn = ({ name, code }: TypeDeclaration) =>
      own.some(other => (name === '' ? other.code === code : other.name === name));
    return [...own, ...(this.#base?.declarations() ?? []).filter(other => !isOwn(other))];
  }

  #unknown(): string {
    this.#isWhole = false;
    return 'unknown';
  }

  #fieldType(member: Node, module: TypeModule): string {
    const annotation = member['typeAnnotation'] as Node | null;
    if (annotation) return this.#names.text(annotation['typeAnnotation'], module);
    const value = member['value'] as Node | null;
    // `readonly most = 12` is emitted with its value.
    if (value && module.isEmitted) return module.code.slice(value.start, value.end);
    return (value && this.#valueType(bare(value), module, !member['readonly'])) ?? this.#unknown();
  }

  #annotated(param: Node | undefined, module: TypeModule): string | undefined {
    const annotation = param?.['typeAnnotation'] as Node | undefined;
    return annotation && this.#names.text(annotation['typeAnnotation'], module);
  }

  /** The return type of a function: as annotated, or inferred from simple code. */
  #returns(fn: Node, module: TypeModule): string {
    if (fn['returnType']) return this.#names.text(fn['returnType']['typeAnnotation'], module);
    if (fn['generator']) return this.#unknown();
    const type = this.#bodyType(fn, module) ?? this.#unknown();
    return fn['async'] ? `Promise<${type}>` : type;
  }

  #bodyType(fn: Node, module: TypeModule): string | undefined {
    const body = fn['body'] as Node | null;
    if (!body) return undefined;
    if (body.type !== 'BlockStatement') return this.#valueType(bare(body), module);
    const returned: (Node | null)[] = [];
    walk(body, node => {
      if (/Function|^Class/.test(node.type)) return false;
      if (node.type === 'ReturnStatement') returned.push(node['argument']);
      return true;
    });
    if (returned.every(value => value === null)) return 'void';
    const types = returned.map(value => (value ? this.#valueType(bare(value), module) : 'undefined'));
    return types.every(type => type === types[0]) ? types[0] : undefined;
  }

  /**
   * The type of a simple expression.
   * @param isVariable whether TypeScript widens the type of a literal.
   */
  #valueType(node: Node, module: TypeModule, isVariable = true): string | undefined {
    if (/^TS(?:As|Satisfies)Expression$/.test(node.type)) return this.#names.text(node['typeAnnotation'], module);
    if (!isVariable) this.#isWhole = false;
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
      // Type arguments may be inferred.
      this.#isWhole = false;
      return `${this.#names.nameOf(name, module)}${args.length ? `<${args.map(arg => this.#names.text(arg, module)).join(', ')}>` : ''}`;
    }
    if (node.type === 'ConditionalExpression') {
      const [first, second] = [node['consequent'], node['alternate']].map(part => this.#valueType(bare(part), module));
      const isNull = (part: Node) => bare(part).type === 'Literal' && bare(part)['value'] === null;
      if (isNull(node['consequent'])) return second && `${second} | null`;
      if (isNull(node['alternate'])) return first && `${first} | null`;
      return first === second ? first : undefined;
    }
    return undefined;
  }

  /** @param preferEmitted false: the source itself. */
  #read(file: string, preferEmitted = true): TypeModule {
    const source = textOf(file);
    this.inputs.set(file, source);
    const emitted = preferEmitted ? this.emitted.of(file) : undefined;
    const code = emitted ?? source;
    const name = emitted === undefined ? file : file.replace(/\.[^.]*$/, '.d.ts');
    return {
      file,
      code,
      body: (parseModule(name, code)?.program['body'] ?? []) as Node[],
      isEmitted: emitted !== undefined || /\.d\.[cm]?ts$/.test(file),
    };
  }

  /** The value of a constant of the source; other nodes themselves. */
  readonly #resolve = (node: Node): Node => valueIn(this.#constants, node);

  #fieldsOf(node: Node): Map<string, Node> | undefined {
    return fieldsOf(node, this.#resolve);
  }

  #entry(group: string, name: string): Node | undefined {
    const fields = this.#declaration.get(group);
    const entry = fields && this.#fieldsOf(fields['value'])?.get(name);
    return entry && this.#resolve(entry['value']);
  }

  /** `PropertyDeclaration<T>`, `Kind<T>` or `EventDeclaration<T>` in the emitted type of a contract. */
  #emittedType(group: string, name: string): string | undefined {
    const entry = memberType(memberType(declarationIn(this.#emittedBase), group), name);
    const [argument] = (entry?.['typeArguments']?.['params'] ?? []) as Node[];
    return argument && this.#names.text(argument, this.#module);
  }

  #typeArgument(call: Node): string | undefined {
    const [argument] = (call['typeArguments']?.['params'] ?? []) as Node[];
    return argument && this.#names.text(argument, this.#source);
  }

  /** The return type of a function that creates a value, in simple cases. */
  #madeType(fn: Node): string | undefined {
    const parse = fn.type === 'ObjectExpression' ? fieldsOf(fn)?.get('parse') : undefined;
    if (parse) return this.#madeType(bare(parse['value']));
    if (!/Function/.test(fn.type)) return undefined;
    const type = this.#returns(fn, this.#source);
    return type === 'unknown' ? undefined : type;
  }

  #parameter(param: Node, module: TypeModule): ParameterDescription {
    // `constructor(private x)` is not allowed in a type, but defaults and rest parameters are.
    const target = param.type === 'AssignmentPattern' ? (param['left'] as Node) : param;
    const inner = target.type === 'RestElement' ? (target['argument'] as Node) : target;
    const given = param.type === 'AssignmentPattern' ? this.#valueType(bare(param['right']), module) : undefined;
    return {
      name: inner.type === 'Identifier' ? (inner['name'] as string) : 'given',
      type: this.#annotated(target, module) ?? this.#annotated(inner, module) ?? given ?? this.#unknown(),
      optional: param.type === 'AssignmentPattern' || target['optional'] === true,
      rest: target.type === 'RestElement',
    };
  }
}

const print = ({ name, type, optional, rest }: ParameterDescription) =>
  `${rest ? '...' : ''}${name}${optional ? '?' : ''}: ${type}`;
