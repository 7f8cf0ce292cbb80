/** A name that a contract gives to something, and where it is written. */
import type { ElementDescription } from '../describe/description.ts';
import type { Edit } from '../project/finding.ts';

export type NameKind = 'tag' | 'attribute' | 'event' | 'slot' | 'part' | 'state' | 'property';

/** A name of an element's contract; custom properties are called `property`, as CSS calls them. */
export interface ContractName {
  readonly element: ElementDescription;
  readonly kind: NameKind;
  /** As HTML and CSS write it. */
  readonly name: string;
}

/** One place where a name is written, as offsets. */
export interface Sighting extends ContractName {
  readonly start: number;
  readonly end: number;
  /** Whether the contract declares it here. */
  readonly isDeclaration?: boolean;
  /** How another name is given, where it does not just take the place of this one. */
  readonly edit?: (name: string) => Edit;
}

export function isSame(a: ContractName, b: ContractName): boolean {
  if (a.kind !== b.kind || a.name !== b.name) return false;
  // A custom property is one name wherever it is set.
  return a.kind === 'property' || a.element.tag === b.element.tag;
}
