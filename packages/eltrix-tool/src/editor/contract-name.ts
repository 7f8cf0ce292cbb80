/** A name declared in a contract, and its occurrences. */
import type { ElementDescription } from '../describe/description.ts';
import type { Edit } from '../project/finding.ts';

export type NameKind = 'tag' | 'attribute' | 'event' | 'slot' | 'part' | 'state' | 'property';

/** A name of an element's contract; `property` means a custom property. */
export interface ContractName {
  readonly element: ElementDescription;
  readonly kind: NameKind;
  /** As HTML and CSS write it. */
  readonly name: string;
}

/** One occurrence of a name, as offsets. */
export interface Sighting extends ContractName {
  readonly start: number;
  readonly end: number;
  /** Whether this is the declaration. */
  readonly isDeclaration?: boolean;
  /** How the name is replaced, if not by the new name alone. */
  readonly edit?: (name: string) => Edit;
}
