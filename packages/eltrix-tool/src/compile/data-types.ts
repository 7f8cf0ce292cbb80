/** What the types of `data` properties say about their values and about the members of these. */
import { bare, keyOf, type Node, onlyReturn, ownMember, thisMember, walk } from '../project/syntax.ts';
import type { StatedMember } from './declaration.ts';
import { isAny, isFlag, isNothing, isNumber, isText, mayThrow } from './known-functions.ts';

/** The possible values of a type. */
interface Shape {
  readonly flags: number;
  /** The types of objects among them that can be followed. */
  readonly objects: readonly Node[];
}

const anything: Shape = { flags: isAny | isNothing, objects: [] };
const keywords: Readonly<Record<string, number>> = {
  TSStringKeyword: isText,
  TSTemplateLiteralType: isText,
  TSNumberKeyword: isNumber,
  TSBooleanKeyword: isFlag,
  TSNullKeyword: isNothing,
  TSUndefinedKeyword: isNothing,
  TSVoidKeyword: isNothing,
};
const literals: Readonly<Record<string, number>> = { string: isText, number: isNumber, boolean: isFlag };

/** Methods that return a list of items of theirs. */
const selecting = /^(?:filter|slice|toReversed|toSorted)$/;

/** The call of `each` whose function has a parameter, and the parameter's position; undefined for other names. */
export type RowOf = (name: Node) => { readonly each: Node; readonly position: number } | undefined;

export class DataTypes {
  readonly #program: Node;
  readonly #types: ReadonlyMap<string, Node>;
  /** Types that have a name in the module, and what else has one. */
  #named: ReadonlyMap<string, readonly Node[]> | undefined;
  #rowOf: RowOf | undefined;

  readonly #signals: ReadonlyMap<string, Node>;

  /**
   * @param members the properties; those that the class declares again are not among them.
   * @param signals the types of the signals in fields of the class.
   */
  constructor(program: Node, members: readonly StatedMember[], signals: ReadonlyMap<string, Node>) {
    this.#program = program;
    this.#types = new Map(members.flatMap(({ name, type }) => (type ? [[name, type]] : [])));
    this.#signals = signals;
  }

  /** The flags of `this.data`, or of a member of its value; undefined for anything else. */
  flagsOf(expression: Node): number | undefined {
    return this.#shape(expression)?.flags;
  }

  /**
   * The same, also for the items of rows, and the results of methods that run code of the author.
   * @param rowOf the call of `each` to whose function a parameter belongs, and the parameter's position.
   */
  resultFlagsOf(expression: Node, rowOf: RowOf): number | undefined {
    this.#rowOf = rowOf;
    try {
      return this.flagsOf(expression);
    } finally {
      this.#rowOf = undefined;
    }
  }

  #shape(node: Node): Shape | undefined {
    if (/^(?:Chain|Parenthesized|TSSatisfies|TSNonNull|TSAs)Expression$/.test(node.type)) {
      const shape = this.#shape(node['expression']);
      if (shape && node.type === 'TSAsExpression') return this.#read(node['typeAnnotation']);
      return shape && node.type === 'TSNonNullExpression' ? { ...shape, flags: shape.flags & ~isNothing } : shape;
    }
    if (node.type === 'CallExpression')
      return (
        this.#joined(node) ??
        (this.#rowOf && (this.#row(node, this.#rowOf) ?? this.#selected(node) ?? this.#signal(node)))
      );
    if (node.type !== 'MemberExpression' || node['property'].type === 'PrivateIdentifier') return undefined;
    const name = thisMember(node);
    if (name !== undefined) {
      const type = this.#types.get(name);
      return type && this.#read(type);
    }
    const object = this.#shape(node['object']);
    if (!object) return undefined;
    const key = node['computed'] ? bare(node['property']) : undefined;
    // Another key could be an expression with effects.
    if (key && (key.type !== 'Literal' || typeof key['value'] !== 'number')) return undefined;
    const read = this.#member(object, key ? undefined : (node['property']['name'] as string));
    return !node['optional'] && object.flags & isNothing ? { ...read, flags: read.flags | mayThrow } : read;
  }

  /** The text of a list: `this.data.tags.join(', ')`. */
  #joined({ callee, arguments: args, optional }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    const isJoin = type === 'MemberExpression' && !computed && property['name'] === 'join' && !optional;
    const list = isJoin && (args as Node[]).every(({ type }) => type === 'Literal') ? this.#shape(object) : undefined;
    const items = list && itemsOf(list, type => this.#read(type));
    if (!items || items.flags & isAny) return undefined;
    const nothing = list.flags & isNothing && (bare(callee)['optional'] ? isNothing : isNothing | mayThrow);
    return { flags: isText | nothing | (list.flags & mayThrow), objects: [] };
  }

  /** `item()` or `index()` in a row. */
  #row({ callee, arguments: args }: Node, rowOf: RowOf): Shape | undefined {
    const row = bare(callee).type === 'Identifier' && (args as Node[]).length === 0 ? rowOf(bare(callee)) : undefined;
    if (!row) return undefined;
    if (row.position > 0) return { flags: isNumber, objects: [] };
    const items = bare(row.each['arguments'][0]);
    const result = items.type === 'ArrowFunctionExpression' ? onlyReturn(items['body']) : items;
    const list = result && this.#shape(result);
    return list && itemsOf(list, type => this.#read(type));
  }

  /** The value of a signal in a field: `this.count.get()`. */
  #signal({ callee }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    if (type !== 'MemberExpression' || computed || !/^(?:get|peek)$/.test(property['name'])) return undefined;
    const name = ownMember(object);
    const signal = name === undefined ? undefined : this.#signals.get(name);
    return signal && this.#read(signal);
  }

  /** A list of items of another one. */
  #selected({ callee, optional }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    const isSelected = type === 'MemberExpression' && !computed && !optional && selecting.test(property['name']);
    const list = isSelected ? this.#shape(object) : undefined;
    return list && itemsOf(list, type => this.#read(type)) && list;
  }

  /** A member of a value. @param name undefined for an index. */
  #member({ flags, objects }: Shape, name: string | undefined): Shape {
    const shapes = objects.map(type => this.#memberOf(type, name));
    if (flags & isText) shapes.push(name === 'length' ? { flags: isNumber, objects: [] } : anything);
    if (flags & isNothing) shapes.push({ flags: isNothing, objects: [] });
    if (flags & (isNumber | isFlag) || (flags & isAny && objects.length === 0)) shapes.push(anything);
    return union(shapes);
  }

  #memberOf(type: Node, name: string | undefined): Shape {
    if (type.type === 'TSArrayType') {
      if (name === 'length') return { flags: isNumber, objects: [] };
      const item = name === undefined ? this.#read(type['elementType']) : anything;
      return { ...item, flags: item.flags | isNothing };
    }
    const found = (type['members'] as Node[]).filter(member => nameOf(member) === name);
    const [member, ...others] = found;
    if (name === undefined || !member || others.length > 0 || member.type !== 'TSPropertySignature') return anything;
    const shape = this.#read(member['typeAnnotation']);
    return member['optional'] ? { ...shape, flags: shape.flags | isNothing } : shape;
  }

  /** The possible values of a type. */
  #read(type: Node | null | undefined, seen: readonly string[] = []): Shape {
    const flags = keywords[type?.type ?? ''];
    if (flags !== undefined) return { flags, objects: [] };
    switch (type?.type) {
      case 'TSTypeAnnotation':
      case 'TSParenthesizedType':
        return this.#read(type['typeAnnotation'], seen);
      case 'TSTypeOperator':
        return type['operator'] === 'readonly' ? this.#read(type['typeAnnotation'], seen) : anything;
      case 'TSUnionType':
        return union((type['types'] as Node[]).map(one => this.#read(one, seen)));
      case 'TSLiteralType': {
        const literal = type['literal'] as Node;
        const value: unknown = literal.type === 'UnaryExpression' ? literal['argument']['value'] : literal['value'];
        return { flags: literals[typeof value] ?? isAny, objects: [] };
      }
      case 'TSArrayType':
      case 'TSTypeLiteral':
        return { flags: isAny, objects: [type] };
      case 'TSTypeReference':
        return this.#reference(type, seen);
      default:
        return anything;
    }
  }

  #reference(type: Node, seen: readonly string[]): Shape {
    const { name } = type['typeName'] as { name?: string };
    const args = (type['typeArguments']?.params ?? []) as Node[];
    if (name === undefined || seen.includes(name)) return anything;
    const [named, ...others] = this.#declarations().get(name) ?? [];
    if (!named) {
      const [item] = args;
      if (/^(?:Readonly)?Array$/.test(name) && item)
        return { flags: isAny, objects: [{ ...type, type: 'TSArrayType', elementType: item }] };
      return name === 'Readonly' && item ? this.#read(item, seen) : anything;
    }
    if (others.length > 0 || args.length > 0 || named['typeParameters']) return anything;
    if (named.type === 'TSTypeAliasDeclaration') return this.#read(named['typeAnnotation'], [...seen, name]);
    if (named.type !== 'TSInterfaceDeclaration') return anything;
    const members = this.#membersOf(named, [name]);
    return members ? { flags: isAny, objects: [{ ...named, members }] } : anything;
  }

  /** Those of an interface and of the ones that it extends; undefined if one of these is not in the module. */
  #membersOf(named: Node, seen: readonly string[]): Node[] | undefined {
    const own = named['body']['body'] as Node[];
    const all = [...own];
    for (const { expression, typeArguments } of (named['extends'] ?? []) as Node[]) {
      const name = expression['name'] as string | undefined;
      const [above, ...others] = (name !== undefined && this.#declarations().get(name)) || [];
      if (above?.type !== 'TSInterfaceDeclaration' || others.length > 0 || typeArguments || seen.includes(name!))
        return undefined;
      const inherited = this.#membersOf(above, [...seen, name!]);
      if (!inherited) return undefined;
      // A member that is declared again is narrower there.
      all.push(...inherited.filter(member => !own.some(mine => nameOf(mine) === nameOf(member))));
    }
    return all;
  }

  #declarations(): ReadonlyMap<string, readonly Node[]> {
    if (this.#named) return this.#named;
    const named = new Map<string, Node[]>();
    const add = (name: string, node: Node) => void named.set(name, [...(named.get(name) ?? []), node]);
    walk(this.#program, node => {
      if (node.type === 'TSTypeParameter') add(node['name']['name'], node);
      else if (
        /^(?:TS(?:Interface|TypeAlias|Enum|Module|ImportEquals)|Class)Declaration$/.test(node.type) &&
        node['id']
      )
        add(node['id']['name'], node);
      else if (/^Import.*Specifier$/.test(node.type)) add(node['local']['name'], node);
    });
    return (this.#named = named);
  }
}

const nameOf = (member: Node) => (member['key'] ? keyOf(member) : undefined);

/** The items of a value that is a list, or nothing. */
function itemsOf({ flags, objects }: Shape, read: (type: Node) => Shape): Shape | undefined {
  const isList = objects.length > 0 && objects.every(({ type }) => type === 'TSArrayType');
  return isList && (flags & ~(isNothing | mayThrow)) === isAny
    ? union(objects.map(({ elementType }) => read(elementType)))
    : undefined;
}

function union(shapes: readonly Shape[]): Shape {
  const flags = shapes.reduce((all, shape) => all | shape.flags, 0);
  // One that cannot be followed makes the whole unknown.
  const isFollowed = shapes.every(({ flags, objects }) => !(flags & isAny) || objects.length > 0);
  return { flags, objects: isFollowed ? shapes.flatMap(({ objects }) => objects) : [] };
}

/**
 * The type of a property, as written: of the call of `data`, or of its function's result.
 * @param isTyped whether the module is TypeScript, where a value has the type of the literal that it is made from.
 */
export function typeOfData(call: Node, isTyped: boolean): Node | undefined {
  const make = bare(call['arguments'][0]);
  const result = make.type === 'ArrowFunctionExpression' && !make['async'] ? make['body'] : undefined;
  return typeGiven(call) ?? make['returnType'] ?? (result && typeOfValue(result, isTyped));
}

/** The same for a signal. */
export function typeOfSignal(call: Node, isTyped: boolean): Node | undefined {
  const [value] = call['arguments'] as Node[];
  return typeGiven(call) ?? (value && typeOfValue(value, isTyped));
}

const typeGiven = (call: Node) => (call['typeArguments']?.params as Node[] | undefined)?.[0];

function typeOfValue(value: Node, isTyped: boolean): Node | undefined {
  if (value.type === 'ParenthesizedExpression') return typeOfValue(value['expression'], isTyped);
  if (value.type === 'TSAsExpression') return value['typeAnnotation'];
  const literal = bare(value);
  const name = literal.type === 'Literal' ? typeof literal['value'] : '';
  return isTyped && Object.hasOwn(literals, name)
    ? { ...literal, type: `TS${name[0]!.toUpperCase()}${name.slice(1)}Keyword` }
    : undefined;
}
