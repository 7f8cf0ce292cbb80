/** The types that a module declares or imports, and what they say about values. */
import { exportsOf, importedName } from '../project/exports.ts';
import { keyOf, type Node, walk } from '../project/syntax.ts';
import { isAny, isFlag, isNothing, isNumber, isText } from './known-functions.ts';

/** The possible values of a type. */
export interface Shape {
  readonly flags: number;
  /** What is known of the objects among them; empty if one of them is not known. */
  readonly objects: readonly ObjectShape[];
}

export interface ObjectShape {
  /** The items of a list. */
  readonly items?: () => Shape;
  /** The value of a signal. */
  readonly value?: () => Shape;
  /** Further members may be anything. */
  readonly members: ReadonlyMap<string, () => Shape>;
}

export const anything: Shape = { flags: isAny | isNothing, objects: [] };

const keywords: Readonly<Record<string, number>> = {
  TSStringKeyword: isText,
  TSTemplateLiteralType: isText,
  TSNumberKeyword: isNumber,
  TSBooleanKeyword: isFlag,
  TSNullKeyword: isNothing,
  TSUndefinedKeyword: isNothing,
  TSVoidKeyword: isNothing,
};
/** By `typeof`. */
export const literals: Readonly<Record<string, number>> = { string: isText, number: isNumber, boolean: isFlag };

/** The types of an imported module; undefined if they cannot be read. */
export type FollowTypes = (specifier: string) => ModuleTypes | undefined;

/** What has a name: a declaration, or an import with the name that the other module gives it. */
interface Named {
  readonly node: Node;
  readonly from?: string;
}

/** Aliases and modules that are followed for one type. */
const most = 20;

const namedIn = new WeakMap<Node, ReadonlyMap<string, readonly Named[]>>();

export class ModuleTypes {
  readonly #program: Node;
  readonly #follow: FollowTypes;

  constructor(program: Node, follow: FollowTypes) {
    this.#program = program;
    this.#follow = follow;
  }

  /** The possible values of a type that is written in this module. */
  read(type: Node | null | undefined, depth = 0): Shape {
    const flags = keywords[type?.type ?? ''];
    if (flags !== undefined) return { flags, objects: [] };
    switch (type?.type) {
      case 'TSTypeAnnotation':
      case 'TSParenthesizedType':
        return this.read(type['typeAnnotation'], depth);
      case 'TSTypeOperator':
        return type['operator'] === 'readonly' ? this.read(type['typeAnnotation'], depth) : anything;
      case 'TSUnionType':
        return union((type['types'] as Node[]).map(one => this.read(one, depth)));
      case 'TSIntersectionType':
        return joined((type['types'] as Node[]).map(one => this.read(one, depth)));
      case 'TSLiteralType': {
        const literal = type['literal'] as Node;
        const value: unknown = literal.type === 'UnaryExpression' ? literal['argument']['value'] : literal['value'];
        return { flags: literals[typeof value] ?? isAny, objects: [] };
      }
      case 'TSArrayType':
        return this.#list(type['elementType']);
      case 'TSTypeLiteral':
        return object(this.#membersOf(type['members']));
      case 'TSTypeReference': {
        const { name } = type['typeName'] as { name?: string };
        return name === undefined ? anything : this.#named(name, type['typeArguments']?.params ?? [], depth);
      }
      default:
        return anything;
    }
  }

  #list(item: Node): Shape {
    return { flags: isAny, objects: [{ items: () => this.read(item), members: new Map() }] };
  }

  #named(name: string, args: readonly Node[], depth: number): Shape {
    const [found, ...others] = this.#declarations().get(name) ?? [];
    const [item] = args;
    if (!found && item && /^(?:Readonly)?Array$/.test(name)) return this.#list(item);
    if (!found && item && name === 'Readonly') return this.read(item, depth);
    if (!found || others.length > 0) return anything;
    const { node, from } = found;
    if (from === 'eltrix' && item && /^(?:Signal|Readable)$/.test(importedName(node)))
      return { flags: isAny, objects: [{ value: () => this.read(item), members: new Map() }] };
    if (args.length > 0 || depth > most) return anything;
    if (from !== undefined) return this.#follow(from)?.exported(importedName(node), depth + 1) ?? anything;
    if (node['typeParameters']) return anything;
    if (node.type === 'TSEnumDeclaration') return { flags: isText | isNumber, objects: [] };
    if (node.type === 'TSTypeAliasDeclaration') return this.read(node['typeAnnotation'], depth + 1);
    return node.type === 'TSInterfaceDeclaration' ? this.#interface(node, depth) : anything;
  }

  #interface(node: Node, depth: number): Shape {
    const above = ((node['extends'] ?? []) as Node[]).map(({ expression, typeArguments }) => {
      const name = expression['name'] as string | undefined;
      return name === undefined || typeArguments ? anything : this.#named(name, [], depth + 1);
    });
    return joined([...above, object(this.#membersOf(node['body']['body']))]);
  }

  #membersOf(nodes: readonly Node[]): Map<string, () => Shape> {
    const members = new Map<string, () => Shape>();
    for (const node of nodes) {
      const name = node['key'] ? keyOf(node) : undefined;
      if (name === undefined) continue;
      const isKnown = node.type === 'TSPropertySignature' && !members.has(name);
      members.set(name, () => {
        const shape = isKnown ? this.read(node['typeAnnotation']) : anything;
        return node['optional'] ? { ...shape, flags: shape.flags | isNothing } : shape;
      });
    }
    return members;
  }

  /** A type that this module exports. */
  exported(name: string, depth: number): Shape | undefined {
    if (depth > most) return undefined;
    const all = exportsOf(this.#program, name).map(one =>
      'from' in one
        ? this.#follow(one.from)?.exported(one.name, depth + 1)
        : one.node['name'] && this.#named(one.node['name'], [], depth),
    );
    const found = all.filter(shape => shape !== undefined);
    return found.length === 1 ? found[0] : undefined;
  }

  #declarations(): ReadonlyMap<string, readonly Named[]> {
    const known = namedIn.get(this.#program);
    if (known) return known;
    const named = new Map<string, Named[]>();
    const add = (id: Node, one: Named) => void named.set(id['name'], [...(named.get(id['name']) ?? []), one]);
    walk(this.#program, node => {
      if (node.type === 'ImportDeclaration')
        for (const specifier of node['specifiers'] as Node[])
          add(specifier['local'], { node: specifier, from: node['source']['value'] });
      else if (node.type === 'TSTypeParameter') add(node['name'], { node });
      else if (
        /^(?:TS(?:Interface|TypeAlias|Enum|Module|ImportEquals)|Class)Declaration$/.test(node.type) &&
        node['id']
      )
        add(node['id'], { node });
    });
    namedIn.set(this.#program, named);
    return named;
  }
}

const object = (members: ReadonlyMap<string, () => Shape>): Shape => ({ flags: isAny, objects: [{ members }] });

/** An object with the members of several; one that is declared again is narrower in the last. */
function joined(shapes: readonly Shape[]): Shape {
  const members = new Map<string, () => Shape>();
  for (const { flags, objects } of shapes) {
    const [one, ...others] = objects;
    if (flags !== isAny || !one || one.items || others.length > 0) return anything;
    for (const [key, shape] of one.members) members.set(key, shape);
  }
  return object(members);
}

export function union(shapes: readonly Shape[]): Shape {
  const flags = shapes.reduce((all, shape) => all | shape.flags, 0);
  const isKnown = shapes.every(({ flags, objects }) => !(flags & isAny) || objects.length > 0);
  return { flags, objects: isKnown ? shapes.flatMap(({ objects }) => objects) : [] };
}
