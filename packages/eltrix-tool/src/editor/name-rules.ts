/** Validates names of contracts. */
import { isAttributeName, tagProblem } from '../../../eltrix/src/contract/names.ts';
import { withoutCode } from '../project/without-code.ts';
import type { ContractName } from './contract-name.ts';
import { elementsWith } from './declared-by.ts';
import type { EditorProject } from './project.ts';

export const kindNames = {
  tag: 'tag',
  attribute: 'attribute',
  event: 'event',
  slot: 'slot',
  part: 'part',
  state: 'state',
  property: 'custom property',
} as const;

/** The description in the contract. */
export function aboutOf({ element, kind, name }: ContractName): string | undefined {
  switch (kind) {
    case 'tag':
      return element.about;
    case 'attribute':
      return element.properties.find(({ attribute }) => attribute === name)?.about;
    case 'event':
      return element.events.find(({ type }) => type === name)?.about ?? '';
    case 'slot':
      return element.slots.find(slot => slot.name === name)?.about;
    case 'part':
      return element.parts.find(part => part.name === name)?.about;
    case 'state':
      return element.states.find(state => state.name === name)?.about;
    case 'property':
      return element.cssProperties.find(property => property.name === name)?.about;
  }
}

/** The names of one kind that an element has. */
function namesOf({ element, kind }: Pick<ContractName, 'element' | 'kind'>, project: EditorProject): string[] {
  const lists = {
    tag: () => project.elements.map(({ tag }) => tag),
    attribute: () => element.properties.flatMap(({ attribute }) => attribute ?? []),
    event: () => element.events.map(({ type }) => type),
    slot: () => element.slots.map(({ name }) => name),
    part: () => element.parts.map(({ name }) => name),
    state: () => element.states.map(({ name }) => name),
    property: () => element.cssProperties.map(({ name }) => name),
  };
  return lists[kind]();
}

/** The reason why a name is invalid; undefined if it is valid. */
export function problemOfName(project: EditorProject, name: ContractName, given: string): string | undefined {
  const { kind } = name;
  const written = JSON.stringify(given);
  const taken =
    given !== name.name &&
    elementsWith(project, name).find(element => namesOf({ element, kind }, project).includes(given));
  if (taken)
    return kind === 'tag'
      ? `<${given}> is another element of the project. Choose a tag that no element has.`
      : `<${taken.tag}> has the ${kindNames[kind]} ${written} already. Choose a name that is not in use.`;
  switch (kind) {
    case 'tag': {
      const problem = tagProblem(given);
      return problem ? withoutCode(problem.message) : undefined;
    }
    case 'attribute':
      return isAttributeName(given) && given === given.toLowerCase()
        ? undefined
        : `${written} cannot be an attribute. Use lower-case letters, digits and hyphens, for example "queen-age".`;
    case 'property':
      return /^--[\p{ID_Continue}-]+$/u.test(given)
        ? undefined
        : `${written} is not a custom property. It begins with two hyphens, for example "--hive-accent".`;
    default:
      return /^[\p{ID_Start}_][\p{ID_Continue}-]*$/u.test(given)
        ? undefined
        : `${written} cannot be a ${kind}. Use letters, digits and hyphens, for example "badge".`;
  }
}
