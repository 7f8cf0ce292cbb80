/** Compiles contracts and their classes. */
import { bare, keyOf, type Node } from '../project/syntax.ts';
import { mayBeElement, partsOf } from './class-parts.ts';
import { DataTypes } from './data-types.ts';
import { runtime, type StatedContract } from './declaration.ts';
import { isPlainType, type Known, onlyNames } from './infer.ts';
import { type LeanElement, leanElement } from './lean.ts';
import type { ModuleCode } from './module-code.ts';
import { typeOfSignal } from './type-of-value.ts';

/** The compiled form of a static element; undefined for other elements. */
export function leanOf(module: ModuleCode, node: Node, contract: StatedContract): LeanElement | undefined {
  const name = node['id']?.['name'] as string | undefined;
  if (module.options.rendered || name === undefined || mayBeExtended(module, node) || node['decorators']?.length > 0)
    return undefined;
  return leanElement(node, contract, module.classes.get(node)!, module);
}

/** Whether other classes may extend a class, and override the members that it reads. */
function mayBeExtended(module: ModuleCode, node: Node): boolean {
  const extended = module.options.usage?.extended;
  const name = node['id']?.['name'] as string | undefined;
  return !extended || name === undefined || extended.has(name) || extended.has('*');
}

export function factsOf(module: ModuleCode, node: Node, stated: ReadonlyMap<Node, StatedContract>): Known {
  const own = node['body']['body'] as Node[];
  const isOpen = own.some(member => member.type !== 'StaticBlock' && !member['static'] && isOfAnyName(member));
  if (isOpen || mayBeExtended(module, node)) return onlyNames(module.values);
  const contract = stated.get(bare(node['superClass']));
  const methods = new Set<string>();
  const declared = new Set<string>();
  const plain = new Set(contract?.members.filter(member => member.plain).map(({ name }) => name));
  for (const member of own) {
    const name = keyOf(member);
    if (name === undefined || member['static']) continue;
    declared.add(name);
    plain.delete(name);
    methods.delete(name);
    if (member.type !== 'MethodDefinition') continue;
    if (member['kind'] === 'method') methods.add(name);
    else if (member['kind'] === 'get' && isPlainType(member['value']['returnType'])) plain.add(name);
  }
  const properties = contract?.members.filter(({ name }) => !declared.has(name)) ?? [];
  const signals = signalsOf(module, own);
  const types = new DataTypes(module.types, properties, signals);
  return {
    isPlainMember: name => plain.has(name),
    dataFlags: (node, names, mayRun) => types.flagsOf(node, names, mayRun),
    isMethod: name => methods.has(name),
    hasSignals: signals.size > 0 || own.some(member => isMadeBy(module, member, 'matches')),
    names: module.values,
  };
}

/** Whether a field is made by a function of the library. */
function isMadeBy(module: Pick<ModuleCode, 'nameOf'>, { type, value, static: isStatic }: Node, name: string): boolean {
  const made = type === 'PropertyDefinition' && !isStatic && value ? bare(value) : undefined;
  return made?.type === 'CallExpression' && module.nameOf(made['callee']) === name;
}

/** The types of the signals in fields of a class, by the names of the fields. */
function signalsOf(module: ModuleCode, own: readonly Node[]): Map<string, Node> {
  const signals = new Map<string, Node>();
  for (const member of own) {
    if (!isMadeBy(module, member, 'signal')) continue;
    const type = typeOfSignal(bare(member['value']), module.isTyped);
    const name = member['key'].type === 'PrivateIdentifier' ? `#${member['key']['name'] as string}` : keyOf(member);
    if (type && name !== undefined) signals.set(name, type);
  }
  return signals;
}

export function compileContract(
  module: ModuleCode,
  call: Node,
  contract: StatedContract,
  owner: Node | undefined,
): void {
  const parts = new Set([...contract.parts, ...(owner ? partsOf(owner, module, contract.events.size > 0) : [])]);
  if (parts.has('emitPart')) parts.delete('plainEmitPart');
  const args = [
    ...(contract.base ? [contract.base] : []),
    JSON.stringify(contract.tag),
    JSON.stringify(contract.surface),
    `{ ${contract.members.map(({ code }) => code).join(', ')} }`,
    `[${[...parts].map(name => `${runtime}.${name}`).join(', ')}]`,
    ...(contract.more ? [contract.more] : []),
  ];
  const maker = module.use(contract.base ? 'elementFrom' : 'element');
  module.output.overwrite(call.start, call.end, `${maker}(${args.join(', ')})`);
}

export function compileClass(module: ModuleCode, node: Node, stated: ReadonlyMap<Node, StatedContract>): void {
  if (stated.has(bare(node['superClass']))) return;
  const may = mayBeElement(node['superClass'], module);
  if (!may) return;
  // Only running the module shows whether it is an element.
  const parts = partsOf(node, module, false);
  // A subclass of a foreign class counts as an element only if it has methods with the names of hooks.
  if (may === 'perhaps' && ![...parts].some(part => /^(?:hooks|attribute|move)Part$/.test(part))) return;
  if (parts.size === 0) return;
  const list = [...parts].map(name => `${runtime}.${name}`).join(', ');
  module.output.appendLeft(node['body'].start + 1, ` static { ${module.use('addParts')}(this, [${list}]); }`);
}

/** Whether the name of a member is computed. */
const isOfAnyName = (member: Node) => keyOf(member) === undefined && member['key']?.type !== 'PrivateIdentifier';
