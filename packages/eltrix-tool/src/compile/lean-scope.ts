/** What the names in the view of a static element mean. */
import { bare, keyOf, type Node, type Range, scopeOfName, walk } from '../project/syntax.ts';
import { positionOf, type RowOf } from './data-types.ts';
import type { StatedContract } from './declaration.ts';
import type { Edit } from './edit.ts';
import type { Known } from './infer.ts';
import { isAssigned, type ModuleValues, type Names } from './module-values.ts';
import type { Scope } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export interface ScopeModule {
  readonly program: Node;
  readonly bound: ReadonlyMap<string, readonly Range[]>;
  readonly values: ModuleValues;
  nameOf(node: Node): string | undefined;
}

/** What the view of a static element may use. */
export interface LeanScope extends Scope {
  /** The functions of rows that are known so far, each with its call of `each`. */
  readonly rows: Map<Node, Node>;
  /** What the parameter of the function of a row reads: its call of `each`, and the parameter's position. */
  readonly rowOf: RowOf;
}

/** @param view the function of `view()`, if there is one. */
export function scopeOf(
  contract: StatedContract,
  own: ReadonlyMap<string, Node>,
  view: Node | undefined,
  known: Known,
  module: ScopeModule,
): LeanScope {
  const { program, bound, values } = module;
  const assigned = assignedMembers(program);
  const rows = new Map<Node, Node>();
  /** The function of the view, or of a row, to which a name belongs. */
  const functionOf = (name: Node) => {
    const [start, end] = scopeOfName(bound, name) ?? [];
    return [view, ...rows.keys()].find(fn => fn?.start === start && fn?.end === end);
  };
  const locals = new Map<Node, Map<string, Node>>();
  const localsOf = (fn: Node | undefined) => {
    if (fn && !locals.has(fn)) locals.set(fn, constantsIn(fn['body']['body'] ?? []));
    return fn && locals.get(fn);
  };
  const rowOf = (name: Node) => {
    const fn = functionOf(name);
    const each = fn && rows.get(fn);
    const position = each ? positionOf(fn, name) : -1;
    return position < 0 ? undefined : { each: each!, position };
  };
  const names: Names = {
    made: name => values.made(name),
    isGlobal: name => values.isGlobal(name),
    local: name => localsOf(functionOf(name))?.get(name['name']),
  };
  return {
    names,
    members: contract.members,
    dataFlags: node => known.dataFlags(node, { rowOf, local: names.local! }),
    rows,
    rowOf,
    isMatcher: ({ type, value }) => {
      const made = type === 'PropertyDefinition' && value ? bare(value) : undefined;
      return made?.type === 'CallExpression' && module.nameOf(made['callee']) === 'matches';
    },
    // What is assigned hides what the class declares.
    own: new Map([...own].map(([name, member]) => [name, assigned.has(name) ? unknownMember : member])),
  };
}

/** The `const` variables of a list of statements, with what they are made from. */
export function constantsIn(statements: readonly Node[]): Map<string, Node> {
  const constants = new Map<string, Node>();
  for (const { type, kind, declarations } of statements)
    if (type === 'VariableDeclaration' && kind === 'const')
      for (const { id, init } of declarations as { id: Node; init: Node }[])
        if (id.type === 'Identifier') constants.set(id['name'], bare(init));
        else for (const [name, member] of membersOf(id, init)) constants.set(name, member);
  return constants;
}

/** The members that `const { id, label: text } = …` reads, by the names of the constants; none for other patterns. */
function membersOf({ type, properties }: Node, object: Node): [string, Node][] {
  if (type !== 'ObjectPattern' || !(properties as Node[]).every(isPlainMember)) return [];
  return (properties as Node[]).map(({ key, value, start, end }) => [
    value['name'],
    { type: 'MemberExpression', object, property: key, computed: false, optional: false, start, end },
  ]);
}

const isPlainMember = ({ type, computed, key, value }: Node) =>
  type === 'Property' && !computed && key.type === 'Identifier' && value.type === 'Identifier';

const unknownMember: Node = { type: 'PropertyDefinition', start: 0, end: 0 };

/** The names of members to which a module assigns something. */
function assignedMembers(program: Node): Set<string> {
  const names = new Set<string>();
  walk(program, (node, parents) => {
    if (node.type !== 'MemberExpression' || node['computed'] || !isAssigned(node, parents)) return;
    names.add(node['property']['name'] as string);
  });
  return names;
}

/** The members that a class declares itself, by name; undefined if a name is computed. */
export function ownMembers(classNode: Node): Map<string, Node> | undefined {
  const own = new Map<string, Node>();
  for (const member of classNode['body']['body'] as Node[]) {
    if (member.type === 'StaticBlock' || member['static']) continue;
    const isPrivate = member['key']?.type === 'PrivateIdentifier';
    const name = isPrivate ? `#${member['key']['name'] as string}` : keyOf(member);
    if (name === undefined) return undefined;
    const before = own.get(name);
    // A field hides a method of its name, wherever it is written.
    if (before?.['kind'] !== 'get' && before?.type !== 'PropertyDefinition') own.set(name, member);
  }
  return own;
}

/**
 * Reads the item and the index from the row itself, which takes the place of the functions that read them.
 * @returns undefined if something else is done with the functions.
 */
export function readItems(fn: Node, { rowOf, rows }: LeanScope): Edit[] | undefined {
  const edits: Edit[] = [];
  let well = true;
  walk(fn['body'], (node, parents) => {
    const row = node.type === 'Identifier' ? rowOf(node) : undefined;
    if (!row || row.each !== rows.get(fn)) return;
    const above = parents.at(-1)!;
    const { start, end } = node;
    const member = row.position > 0 ? '.index' : '.item';
    if (above.type === 'MemberExpression' && above['property'] === node && !above['computed']) return;
    if (above.type === 'Property' && !above['shorthand'] && above['value'] !== node) return;
    if (above.type === 'CallExpression' && above['callee'] === node && !above['optional'])
      edits.push({ start: end, end: above.end, parts: [member] });
    else if (above['shorthand'] || !/^(?:Property|(?:Call|New|Member)Expression|TemplateLiteral)$/.test(above.type))
      well = false;
    else edits.push({ start, end, parts: [`(() => ${node['name'] as string}${member})`] });
  });
  return well ? edits : undefined;
}
