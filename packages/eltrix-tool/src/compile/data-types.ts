/** What the types of `data` properties say about their values and about the members of these. */
import { bare, type Node, onlyReturn, ownMember, thisMember } from '../project/syntax.ts';
import type { StatedMember } from './declaration.ts';
import { isAny, isFlag, isNothing, isNumber, isText, mayThrow } from './known-functions.ts';
import { anything, type ModuleTypes, type ObjectShape, type Shape, union } from './module-types.ts';

/** Methods that return a list of items of theirs. */
const selecting = /^(?:filter|slice|toReversed|toSorted)$/;

/** The call of `each` whose function has a parameter, and the parameter's position; undefined for other names. */
export type RowOf = (name: Node) => { readonly each: Node; readonly position: number } | undefined;

/** The names in the function of a row. */
export interface RowNames {
  readonly rowOf: RowOf;
  /** What a constant is made from. */
  local?(name: Node): Node | undefined;
}

/** The position of the parameter with a name; -1 if there is none. */
export const positionOf = (fn: Node, { name }: Node): number =>
  (fn['params'] as Node[]).findIndex(({ type, name: its }) => type === 'Identifier' && its === name);

export class DataTypes {
  readonly #module: ModuleTypes;
  readonly #types: ReadonlyMap<string, Node>;
  readonly #signals: ReadonlyMap<string, Node>;
  #names: RowNames | undefined;
  #mayRun = false;

  /**
   * @param module where the types are written.
   * @param members the properties; those that the class declares again are not among them.
   * @param signals the types of the signals in fields of the class.
   */
  constructor(module: ModuleTypes, members: readonly StatedMember[], signals: ReadonlyMap<string, Node>) {
    this.#module = module;
    this.#types = new Map(members.flatMap(({ name, type }) => (type ? [[name, type]] : [])));
    this.#signals = signals;
  }

  /**
   * The flags of `this.data`, or of a member of its value; undefined for anything else.
   * @param names with them also for the items of rows, and for signals.
   * @param mayRun also for what is not followed, and for the results of methods that run code of the author.
   */
  flagsOf(expression: Node, names?: RowNames, mayRun = false): number | undefined {
    this.#names = names;
    this.#mayRun = mayRun;
    return this.#shape(expression)?.flags;
  }

  #shape(node: Node): Shape | undefined {
    if (/^(?:Chain|Parenthesized|TSSatisfies|TSNonNull|TSAs)Expression$/.test(node.type)) {
      const shape = this.#shape(node['expression']);
      if (shape && node.type === 'TSAsExpression') return this.#module.read(node['typeAnnotation']);
      if (!shape || node.type !== 'TSNonNullExpression' || !(shape.flags & isNothing)) return shape;
      // The author says so, and may be wrong.
      return { ...shape, flags: (shape.flags & ~isNothing) | mayThrow };
    }
    if (node.type === 'CallExpression')
      return (
        this.#joined(node) ??
        (this.#names && (this.#row(node) ?? this.#signal(node))) ??
        (this.#mayRun ? this.#selected(node) : undefined)
      );
    if (node.type === 'Identifier') {
      const made = this.#names?.local?.(node);
      return made && this.#shape(made);
    }
    if (node.type !== 'MemberExpression' || node['property'].type === 'PrivateIdentifier') return undefined;
    const name = thisMember(node);
    if (name !== undefined) {
      const type = this.#types.get(name);
      return type && this.#module.read(type);
    }
    const object = this.#shape(node['object']);
    if (!object) return undefined;
    const key = node['computed'] ? bare(node['property']) : undefined;
    // Another key could be an expression with effects.
    if (key && (key.type !== 'Literal' || typeof key['value'] !== 'number')) return undefined;
    const read = this.#member(object, key ? undefined : (node['property']['name'] as string));
    const throws = (object.flags & mayThrow) | (!node['optional'] && object.flags & isNothing ? mayThrow : 0);
    return { ...read, flags: read.flags | throws };
  }

  /** The text of a list: `this.data.tags.join(', ')`. */
  #joined({ callee, arguments: args, optional }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    const isJoin = type === 'MemberExpression' && !computed && property['name'] === 'join' && !optional;
    const list = isJoin && (args as Node[]).every(({ type }) => type === 'Literal') ? this.#shape(object) : undefined;
    const items = list && itemsOf(list);
    if (!items || items.flags & isAny) return undefined;
    const nothing = list.flags & isNothing && (bare(callee)['optional'] ? isNothing : isNothing | mayThrow);
    return { flags: isText | nothing | (list.flags & mayThrow), objects: [] };
  }

  /** `item()` or `index()` in a row. */
  #row({ callee, arguments: args }: Node): Shape | undefined {
    const isRead = bare(callee).type === 'Identifier' && (args as Node[]).length === 0;
    const row = isRead ? this.#names?.rowOf(bare(callee)) : undefined;
    if (!row) return undefined;
    if (row.position > 0) return { flags: isNumber, objects: [] };
    const items = bare(row.each['arguments'][0]);
    const result = items.type === 'ArrowFunctionExpression' ? onlyReturn(items['body']) : items;
    const list = result && this.#shape(result);
    return list && itemsOf(list);
  }

  /** The value of a signal in a field, or in data: `this.count.get()`, `row().count.get()`. */
  #signal({ callee }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    if (type !== 'MemberExpression' || computed) return undefined;
    if (property['name'] !== 'get' && !(this.#mayRun && property['name'] === 'peek')) return undefined;
    const name = ownMember(object);
    const own = name === undefined ? undefined : this.#signals.get(name);
    if (own) return this.#module.read(own);
    const shape = this.#shape(object);
    const values = shape?.objects.map(({ value }) => value?.()) ?? [];
    if (!shape || values.length === 0 || values.includes(undefined) || (shape.flags & ~mayThrow) !== isAny)
      return undefined;
    const read = union(values as Shape[]);
    return { ...read, flags: read.flags | (shape.flags & mayThrow) };
  }

  /** A list of items of another one. */
  #selected({ callee, optional }: Node): Shape | undefined {
    const { type, object, property, computed } = bare(callee);
    const isSelected = type === 'MemberExpression' && !computed && !optional && selecting.test(property['name']);
    const list = isSelected ? this.#shape(object) : undefined;
    return list && itemsOf(list) && list;
  }

  /** A member of a value. @param name undefined for an index. */
  #member({ flags, objects }: Shape, name: string | undefined): Shape {
    const shapes = objects.map(one => memberOf(one, name));
    if (flags & isText) shapes.push(name === 'length' ? { flags: isNumber, objects: [] } : anything);
    if (flags & isNothing) shapes.push({ flags: isNothing, objects: [] });
    if (flags & (isNumber | isFlag) || (flags & isAny && objects.length === 0)) shapes.push(anything);
    return union(shapes);
  }
}

/** The items of a value that is a list, or nothing. */
function itemsOf({ flags, objects }: Shape): Shape | undefined {
  const items = objects.map(({ items }) => items?.());
  if (items.length === 0 || items.includes(undefined)) return undefined;
  return (flags & ~(isNothing | mayThrow)) === isAny ? union(items as Shape[]) : undefined;
}

/** A member of an object. @param name undefined for an index. */
function memberOf({ items, members }: ObjectShape, name: string | undefined): Shape {
  if (items && name === 'length') return { flags: isNumber, objects: [] };
  const item = name === undefined ? items?.() : undefined;
  if (item) return { ...item, flags: item.flags | isNothing };
  return (name !== undefined && members.get(name)?.()) || anything;
}
