/** What the names in the view of a static element mean. */
import { bare, keyOf, type Node, type Range, walk } from '../project/syntax.ts';
import type { StatedContract } from './declaration.ts';
import type { Known } from './infer.ts';
import { isAssigned, type ModuleValues, type Names } from './module-values.ts';
import type { Scope } from './pure.ts';

/** The module being compiled, as far as this file needs it. */
export interface ScopeModule {
  readonly program: Node;
  readonly bound: ReadonlyMap<string, readonly Range[]>;
  readonly values: ModuleValues;
}

/** @param view the function of `view()`, if there is one. */
export function scopeOf(
  contract: StatedContract,
  own: ReadonlyMap<string, Node>,
  view: Node | undefined,
  known: Known,
  { program, bound, values }: ScopeModule,
): Scope {
  const assigned = assignedMembers(program);
  const locals = view ? constantsIn(view['body']['body'] ?? []) : new Map<string, Node>();
  const names: Names = {
    made: name => values.made(name),
    isGlobal: name => values.isGlobal(name),
    local({ name, start }) {
      const isInside = view && view.start <= start && start < view.end;
      return isInside && bound.get(name as string)?.length === 1 ? locals.get(name as string) : undefined;
    },
  };
  return {
    names,
    members: contract.members,
    dataFlags: known.dataFlags,
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
