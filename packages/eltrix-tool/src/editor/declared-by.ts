/** Which contracts declare a name: an element has the names of those that its contract extends as well. */
import type { Contract } from '../../../eltrix/src/element/plan.ts';
import type { ElementDescription } from '../describe/description.ts';
import type { ContractName, NameKind } from './contract-name.ts';
import type { EditorProject } from './project.ts';

const groups = {
  event: 'events',
  slot: 'slots',
  part: 'parts',
  state: 'states',
  property: 'cssProperties',
} as const;

function declares({ members, declaration = {} }: Contract, kind: Exclude<NameKind, 'tag'>, name: string): boolean {
  if (kind !== 'attribute') return Object.hasOwn(declaration[groups[kind]] ?? {}, name);
  const member = members.find(({ attribute }) => attribute === name);
  return member !== undefined && Object.hasOwn(declaration.attributes ?? {}, member.name);
}

/** The tags of the contracts that declare a name of an element, its own first. */
function declaredBy(project: EditorProject, { element, kind, name }: ContractName): string[] {
  if (kind === 'tag') return [element.tag];
  const tags: string[] = [];
  const own = project.found.find(({ tag }) => tag === element.tag)?.contract;
  for (let contract = own; contract; contract = contract.parent)
    if (declares(contract, kind, name)) tags.push(contract.tag);
  return tags;
}

/** Whether two names change together. A custom property has the same name on every element. */
export function isSame(project: EditorProject, a: ContractName, b: ContractName): boolean {
  if (a.kind !== b.kind || a.name !== b.name) return false;
  return a.kind === 'property' || declaredBy(project, a).at(-1) === declaredBy(project, b).at(-1);
}

/** The elements that have a name. */
export function elementsWith(project: EditorProject, name: ContractName): ElementDescription[] {
  return project.elements.filter(
    element => declaredBy(project, { ...name, element }).length > 0 && isSame(project, name, { ...name, element }),
  );
}

/** The tags of all contracts that declare a name. */
export function declaringTags(project: EditorProject, name: ContractName): Set<string> {
  if (name.kind === 'tag') return new Set([name.element.tag]);
  return new Set(elementsWith(project, name).flatMap(element => declaredBy(project, { ...name, element })));
}
