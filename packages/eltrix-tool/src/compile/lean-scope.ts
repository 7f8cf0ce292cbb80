/** What the names in the view of a static element mean. */

import { constantsOf } from '../project/module-constants.ts';
import { bare, keyOf, type Node, type Range, walk } from '../project/syntax.ts';
import { usesOf } from './constants.ts';
import type { StatedContract } from './declaration.ts';
import type { Known } from './infer.ts';
import type { Scope } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export interface ScopeModule {
  readonly program: Node;
  readonly bound: ReadonlyMap<string, readonly Range[]>;
  isImported(name: string): boolean;
}

/** @param view the function of `view()`, if there is one. */
export function scopeOf(
  contract: StatedContract,
  own: ReadonlyMap<string, Node>,
  view: Node | undefined,
  known: Known,
  module: ScopeModule,
): Scope {
  const { program, bound } = module;
  const constants = constantsOf(program['body']);
  const isOne = (name: string) => bound.get(name)?.length === 1;
  const assigned = assignedMembers(program);
  const locals = view ? constantsIn(view['body']['body'] ?? []) : new Map<string, Node>();
  return {
    members: contract.members,
    dataFlags: known.dataFlags,
    // What is assigned hides what the class declares.
    own: new Map([...own].map(([name, member]) => [name, assigned.has(name) ? unknownMember : member])),
    constant({ name }) {
      if (!isOne(name as string)) return undefined;
      const constant = constants.get(name as string);
      return constant?.value ?? functionOf(program, name as string);
    },
    local({ name, start }) {
      const isInside = view && view.start <= start && start < view.end;
      return isInside && isOne(name as string) ? locals.get(name as string) : undefined;
    },
    isOnlyRead({ name }) {
      const isKept = constants.get(name as string)?.isExported === false;
      return isKept && usesOf(program, name as string).every(([place, around]) => isReading(place, around));
    },
    isGlobal: ({ name }) => !bound.has(name as string) && !module.isImported(name as string),
  };
}

/** The `const` variables of a list of statements, with what they are made from. */
export function constantsIn(statements: readonly Node[]): Map<string, Node> {
  const constants = new Map<string, Node>();
  for (const { type, kind, declarations } of statements)
    if (type === 'VariableDeclaration' && kind === 'const')
      for (const { id, init } of declarations as { id: Node; init: Node }[])
        if (id.type === 'Identifier') constants.set(id['name'], bare(init));
  return constants;
}

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

/** The function that a module declares under a name, unless something else is assigned to the name. */
function functionOf(program: Node, name: string): Node | undefined {
  const declared = (program['body'] as Node[])
    .map(statement => (statement['declaration'] as Node | null | undefined) ?? statement)
    .find(({ type, id, body }) => type === 'FunctionDeclaration' && body && id?.name === name);
  return usesOf(program, name).some(([place, around]) => isAssigned(place, around)) ? undefined : declared;
}

/** Whether something is assigned to a place, or to a member of it. */
function isAssigned({ start }: Node, around: readonly Node[]): boolean {
  return around.some(
    ({ type, left }) =>
      type === 'UpdateExpression' ||
      (left && /^(?:Assignment|For)/.test(type) && left.start <= start && start < left.end),
  );
}

/** Whether a place reads a member of a value. */
function isReading(place: Node, around: readonly Node[]): boolean {
  const [outer, member] = [around.at(-2), around.at(-1)!];
  if (member.type !== 'MemberExpression' || member['object'] !== place || isAssigned(place, around)) return false;
  return outer?.type === 'UnaryExpression'
    ? outer['operator'] !== 'delete'
    : !/^(?:Call|Tagged)/.test(outer?.type ?? '');
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
