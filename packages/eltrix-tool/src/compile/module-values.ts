/** What the constants and functions of a module are made from, also of those that it imports. */
import { exportsOf, type Import, importsOf } from '../project/exports.ts';
import { type Constant, constantsOf } from '../project/module-constants.ts';
import { bare, fieldsOf, keyOf, type Node, type ParsedModule } from '../project/syntax.ts';
import { usesOf } from './constants.ts';

/** What a value is made from: the initializer of a constant, or the declaration of a function or enum, and its module. */
export interface Made {
  readonly node: Node;
  readonly names: Names;
  /** Whether a record stays as it is. */
  readonly isKept?: () => boolean;
}

/** The meaning of names where an expression stands. */
export interface Names {
  /** Undefined for an expression that names no constant, function, enum or field of one that stay as they are. */
  made(expression: Node): Made | undefined;
  /** Whether a name is a global of the language. */
  isGlobal(name: Node): boolean;
  /** What a constant of `view()` is made from, where the name is that constant's. */
  local?(name: Node): Node | undefined;
}

/** The values of an imported module; undefined if they cannot be read. */
type FollowValues = (specifier: string) => ModuleValues | undefined;

/** Modules that are followed for one name. */
const most = 20;

export class ModuleValues implements Names {
  readonly #module: ParsedModule;
  readonly #follow: FollowValues;
  readonly #declarations = new Map<string, Node | undefined>();
  #imported: ReadonlyMap<string, Import> | undefined;
  #constant: ReadonlyMap<string, Constant> | undefined;

  constructor(module: ParsedModule, follow: FollowValues) {
    this.#module = module;
    this.#follow = follow;
  }

  get #imports(): ReadonlyMap<string, Import> {
    return (this.#imported ??= importsOf(this.#module.program));
  }

  get #constants(): ReadonlyMap<string, Constant> {
    return (this.#constant ??= constantsOf(this.#module.program['body']));
  }

  made(expression: Node, depth = 0): Made | undefined {
    const node = bare(expression);
    if (node.type === 'MemberExpression' && !node['optional']) {
      const key: unknown = node['computed'] ? bare(node['property'])['value'] : node['property']['name'];
      if (typeof key !== 'string') return undefined;
      const space = this.#importOf(bare(node['object']));
      if (space?.name === '*') return this.#follow(space.from)?.exported(key, depth);
      const record = this.made(node['object'], depth);
      const field = record && recordOf(record)?.get(key);
      return field && { node: bare(field['value']), names: record.names };
    }
    if (node.type !== 'Identifier') return undefined;
    const imported = this.#importOf(node);
    if (imported) return this.#follow(imported.from)?.exported(imported.name, depth);
    const name = node['name'] as string;
    // One that is declared again may mean something else.
    if (this.#module.bound.get(name)?.length !== 1) return undefined;
    const constant = this.#constants.get(name);
    if (constant) return { node: constant.value, names: this, isKept: () => this.#isKept(name, constant) };
    const declared = this.#declared(name);
    return declared && { node: declared, names: this };
  }

  /** What the module exports under a name. */
  exported(name: string, depth: number): Made | undefined {
    if (depth > most) return undefined;
    const all = exportsOf(this.#module.program, name).map(one => {
      if ('from' in one) return this.#follow(one.from)?.exported(one.name, depth + 1);
      const id = one.node.type === 'FunctionDeclaration' ? (one.node['id'] as Node | null) : null;
      return this.made(id ?? one.node, depth) ?? (id ? undefined : { node: bare(one.node), names: this });
    });
    const found = all.filter(made => made !== undefined);
    return found.length === 1 ? found[0] : undefined;
  }

  /** Whether nothing but reading its members is done with a constant. Other modules are kept to its type. */
  #isKept(name: string, { value, isExported, isReadonly }: Constant): boolean {
    let isGiven = isExported;
    for (const [place, around] of usesOf(this.#module.program, name))
      if (around.at(-1)!.type === 'ExportSpecifier') isGiven = true;
      else if (!isReading(place, around, value)) return false;
    return !isGiven || isReadonly;
  }

  isGlobal({ name }: Node): boolean {
    return !this.#module.bound.has(name as string) && !this.#imports.has(name as string);
  }

  #importOf({ type, name }: Node): Import | undefined {
    return type === 'Identifier' && !this.#module.bound.has(name as string)
      ? this.#imports.get(name as string)
      : undefined;
  }

  /** The function or enum that the module declares under a name, unless something else is assigned to the name. */
  #declared(name: string): Node | undefined {
    if (this.#declarations.has(name)) return this.#declarations.get(name);
    const { program } = this.#module;
    const declared = (program['body'] as Node[])
      .map(statement => (statement['declaration'] as Node | null | undefined) ?? statement)
      .find(({ type, id, body }) => /^(?:Function|TSEnum)Declaration$/.test(type) && body && id?.name === name);
    const isAgain = usesOf(program, name).some(([place, around]) => isAssigned(place, around));
    this.#declarations.set(name, isAgain ? undefined : declared);
    return this.#declarations.get(name);
  }
}

/** The fields of a record that stays as it is, or the members of an enum that are not computed. */
export function recordOf({ node, names, isKept }: Made): ReadonlyMap<string, Node> | undefined {
  if (node.type === 'TSEnumDeclaration') {
    const members = (node['body']['members'] as Node[]).map(
      (member): Node => ({
        ...member,
        value: (member['initializer'] as Node | null) ?? { ...member, type: 'Literal', value: 0 },
      }),
    );
    const known = members.filter(member => member['value'].type === 'Literal');
    return new Map(known.map(member => [keyOf({ ...member, key: member['id'] })!, member]));
  }
  const callee = node.type === 'CallExpression' ? bare(node['callee']) : undefined;
  if (callee && isMemberOf(callee, 'Object', names) && callee['property']['name'] === 'freeze')
    return fieldsOf(node['arguments'][0]);
  return isKept?.() ? fieldsOf(node) : undefined;
}

/** Whether an expression is a member of a global of the language. */
export function isMemberOf({ type, object, computed }: Node, global: string, names: Names): boolean {
  if (type !== 'MemberExpression' || computed) return false;
  const space = bare(object);
  return space.type === 'Identifier' && space['name'] === global && names.isGlobal(space);
}

/** Whether something is assigned to a place, or to a member of it. */
export function isAssigned({ start }: Node, around: readonly Node[]): boolean {
  return around.some(
    ({ type, left }) =>
      type === 'UpdateExpression' ||
      (left && /^(?:Assignment|For)/.test(type) && left.start <= start && start < left.end),
  );
}

/** Whether a place reads a member of a record. */
function isReading(place: Node, around: readonly Node[], record: Node): boolean {
  const member = around.at(-1)!;
  if (member.type !== 'MemberExpression' || member['object'] !== place || isAssigned(place, around)) return false;
  // Parentheses and types around the member change nothing: `delete (words.open)`.
  const outer = around.findLast(node => node !== member && bare(node) !== member);
  if (outer?.type === 'UnaryExpression') return outer['operator'] !== 'delete';
  const called = (outer?.['callee'] ?? outer?.['tag']) as Node | undefined;
  // An arrow function has no `this` by which it could change the record.
  return !called || bare(called) !== member || hasOnlyArrows(record);
}

const hasOnlyArrows = (record: Node) =>
  [...(fieldsOf(record)?.values() ?? [])].every(field => !/^Function/.test(bare(field['value']).type));
