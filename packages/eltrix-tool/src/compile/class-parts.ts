/** Determines the parts of the runtime that a class needs. In doubt a part is included. */
import { bare, keyOf, membersRead, type Node, walk } from '../project/syntax.ts';
import type { Names } from './module-values.ts';
import type { usedMembers } from './usage.ts';

const hookParts: Readonly<Record<string, string>> = {
  assembled: 'hooksPart',
  connected: 'hooksPart',
  disconnected: 'hooksPart',
  adopted: 'hooksPart',
  attributeChanged: 'attributePart',
  moved: 'movePart',
  propertyChanged: 'propertyPart',
};
/** Members of the scope. */
export const scopeParts: Readonly<Record<string, string>> = {
  signal: 'scopeSignalPart',
  on: 'scopeOnPart',
  every: 'scopeEveryPart',
  after: 'scopeAfterPart',
  frame: 'scopeFramePart',
  use: 'scopeUsePart',
  effect: 'scopeEffectPart',
  measure: 'scopeMeasurePart',
};

const memberParts: Readonly<Record<(typeof usedMembers)[number], string>> = {
  emit: 'emitPart',
  internals: 'internalsPart',
  states: 'statesPart',
  slotted: 'slotsPart',
  isFilled: 'slotsPart',
};

/** The module being compiled, as far as this file needs it. */
export interface PartsModule {
  /** All member names in its code. */
  readonly named: ReadonlySet<string>;
  /** Those of them that the code may assign. */
  readonly keys: ReadonlySet<string>;
  /** The members of elements that any module of the project names. */
  readonly namedElsewhere: ReadonlySet<string>;
  /** Whether a function comes from a package, whose code is not analysed. */
  isOfPackage(callee: Node): boolean;
  /** Whether a function belongs to the library, which uses elements in known ways. */
  isOfLibrary(callee: Node): boolean;
  /** Whether all style sheets of a list are written in place. */
  sheetsStay(list: Node | null): boolean;
}

/** @param sendsPlainly whether events have no special options, so that another part dispatches them. */
export function partsOf(node: Node, module: PartsModule, sendsPlainly: boolean): Set<string> {
  const parts = new Set<string>();
  const everyHook = () => {
    for (const part of [...Object.values(hookParts), 'scopePart', ...Object.values(scopeParts)]) parts.add(part);
  };
  const addHook = (name: string, value: Node | undefined) => {
    parts.add(hookParts[name]!);
    // It is called only after `connected` would have been.
    if (name === 'moved') parts.add('hooksPart');
    if (name !== 'connected') return;
    const fn = value && /Function/.test(value.type) ? value : undefined;
    // Without parameters it does not use the scope.
    if (fn && (fn['params'] as Node[]).length === 0 && !namesArguments(fn)) return;
    parts.add('scopePart');
    const used = fn && usedOfScope(fn);
    for (const [name, part] of Object.entries(scopeParts)) if (!used || used.has(name)) parts.add(part);
  };
  if (node['decorators']?.length > 0) everyHook();
  for (const member of node['body']['body'] as Node[]) {
    if (member.type === 'StaticBlock') continue;
    const name = keyOf(member);
    if (name === 'styleSheets' && member['static'] && !module.sheetsStay(member['value'])) parts.add('sheetsPart');
    if (member['static']) continue;
    if (name === undefined) {
      // A computed name may be any.
      if (member['key'].type !== 'PrivateIdentifier') everyHook();
    } else if (Object.hasOwn(hookParts, name)) addHook(name, member['value'] ?? undefined);
  }
  const given = givenAway(node, module);
  const mayUse = (name: string) =>
    module.named.has(name) || given === 'anywhere' || (given === 'project' && module.namedElsewhere.has(name));
  // Members that are assigned to the class or its prototype later.
  for (const name of module.keys) if (Object.hasOwn(hookParts, name)) addHook(name, undefined);
  // A list of sheets may be changed where it is read.
  if (module.named.has('styleSheets')) parts.add('sheetsPart');
  // If the events are known, so is the way to dispatch them.
  for (const [name, part] of Object.entries(memberParts))
    if (mayUse(name) && !(name === 'emit' && sendsPlainly)) parts.add(part);
  return parts;
}

/** The code that receives `this` from the class, and may use members that the module does not name. */
function givenAway(node: Node, module: PartsModule): 'none' | 'project' | 'anywhere' {
  let given: ReturnType<typeof givenAway> = 'none';
  walk(node['body'], (inner, parents) => {
    // `this` of another class.
    if (given === 'anywhere' || (/^Class/.test(inner.type) && inner !== node['body'])) return false;
    if (inner.type !== 'ThisExpression') return true;
    const above = parents.at(-1)!;
    if (above.type === 'MemberExpression' && above['object'] === inner && !above['computed']) return true;
    if (membersRead(inner, above) || /^(?:BinaryExpression|UnaryExpression)$/.test(above.type)) return true;
    const callee = /^(?:Call|New)Expression$/.test(above.type) ? (above['callee'] as Node) : undefined;
    if (callee && module.isOfLibrary(callee)) return true;
    given = callee && module.isOfPackage(callee) ? 'anywhere' : 'project';
    return true;
  });
  return given;
}

/** Whether code of a function may read its parameters without their names. */
function namesArguments(fn: Node): boolean {
  let names = false;
  walk(fn['body'], node => {
    names ||= node.type === 'Identifier' && (node['name'] === 'arguments' || node['name'] === 'eval');
    return !names;
  });
  return names;
}

/** The members of its scope that `connected` uses; undefined if it may pass the scope on. */
function usedOfScope(method: Node): ReadonlySet<string> | undefined {
  const [scope, ...others] = method['params'] as Node[];
  if (!scope || others.length > 0 || namesArguments(method)) return undefined;
  const used = new Set<string>();
  if (scope.type === 'ObjectPattern') {
    for (const { type, computed, key } of scope['properties'] as Node[]) {
      if (type !== 'Property' || computed) return undefined;
      used.add(key['name'] ?? key['value']);
    }
    return used;
  }
  if (scope.type !== 'Identifier') return undefined;
  let isKnown = true;
  walk(method['body'], (node, parents) => {
    if (node.type !== 'Identifier' || node['name'] !== scope['name']) return;
    const above = parents.at(-1)!;
    if (above.type !== 'MemberExpression' || above['computed']) isKnown = false;
    else if (above['object'] === node) used.add(above['property']['name']);
  });
  return isKnown ? used : undefined;
}

/** The member that a node names; `key` if something may be assigned to it. */
export function nameIn(
  node: Node,
  parents: readonly Node[],
): { readonly name: string; readonly key: boolean } | undefined {
  if (node.type === 'Literal' && typeof node['value'] === 'string')
    return { name: node['value'], key: isKey(node, parents.at(-1)) };
  const isMember = node.type === 'MemberExpression';
  const name = isMember ? node['property'] : node.type === 'Property' ? node['key'] : undefined;
  return name?.type === 'Identifier' ? { name: name['name'], key: !isMember || isTarget(node, parents) } : undefined;
}

/** Whether something is assigned to a member, also by a pattern. */
function isTarget(member: Node, parents: readonly Node[]): boolean {
  const above = parents.findLast(node => bare(node) !== member);
  if (/^(?:UpdateExpression|ArrayPattern|RestElement|Property)$/.test(above?.type ?? '')) return true;
  const left = /^(?:Assignment|For)/.test(above?.type ?? '') ? (above!['left'] as Node | undefined) : undefined;
  return left !== undefined && bare(left) === member;
}

/** Whether a string is the name of a member: `x['name']`, `{ 'name': … }`, `Object.defineProperty(x, 'name', …)`. */
function isKey(text: Node, above: Node | undefined): boolean {
  if (above?.type === 'CallExpression') {
    const callee = bare(above['callee']);
    return callee.type === 'MemberExpression' && /^(?:Object|Reflect)$/.test(callee['object']['name']);
  }
  return (above?.type === 'MemberExpression' && above['property'] === text) || above?.type === 'Property';
}

/** The names of a module, as far as this file needs them. */
export interface NamesModule {
  readonly program: Node;
  /** The module and export that a name is imported from; undefined for a name bound in this module. */
  originOf(node: Node): { readonly from: string; readonly name: string } | undefined;
  readonly values: Pick<Names, 'isGlobal'>;
  /** Whether an element class of the project has this name. */
  isNameOfElement(name: string): boolean;
}

/** Whether a class that extends a value may be an element: `perhaps` if the value comes from another package. */
export function mayBeElement(above: Node, module: NamesModule, seen = new Set<string>()): boolean | 'perhaps' {
  const node = bare(above);
  const judge = (origin: { from: string; name: string }) => {
    if (/^eltrix(?:\/|$)/.test(origin.from)) return true;
    if (!/^(?:\.{0,2}\/|#)/.test(origin.from)) return 'perhaps';
    return /^(?:default|\*)$/.test(origin.name) || module.isNameOfElement(origin.name);
  };
  if (node.type === 'MemberExpression') {
    const origin = module.originOf(node['object']);
    const name = node['computed'] ? '*' : (node['property']['name'] as string);
    return origin ? judge({ from: origin.from, name }) : true;
  }
  if (node.type === 'CallExpression') {
    // A mixin returns a subclass of its argument; other functions may return any class.
    if ((node['arguments'] as Node[]).some(given => mayBeElement(given, module, seen) === true)) return true;
    const origin = module.originOf(node['callee']);
    return origin && judge(origin) === 'perhaps' ? 'perhaps' : true;
  }
  if (node.type !== 'Identifier') return !/^(?:Literal|ObjectExpression|ArrayExpression)$/.test(node.type);
  const name = node['name'] as string;
  if (module.values.isGlobal(node)) return false;
  const origin = module.originOf(node);
  if (origin) return judge(origin);
  if (seen.has(name)) return false;
  const own = (module.program['body'] as Node[])
    .map(statement => (statement['declaration'] as Node | null) ?? statement)
    .find(({ type, id }) => type === 'ClassDeclaration' && id?.name === name);
  if (!own) return true;
  return own['superClass'] ? mayBeElement(own['superClass'], module, seen.add(name)) : false;
}
