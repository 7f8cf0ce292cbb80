import type { ElementDescription } from '../../describe/description.ts';
import type { CheckSpecimen, Said } from '../page/model.ts';

/** An element to check, with the source of its description. */
export interface Subject {
  readonly description: ElementDescription;
  readonly specimens: readonly CheckSpecimen[];
  /** The base of relative URLs in specimens, relative to the server's base. */
  readonly base: string;
  readonly foreign: boolean;
  /** The features that a manifest omits. */
  readonly unsaid: readonly Said[];
}
