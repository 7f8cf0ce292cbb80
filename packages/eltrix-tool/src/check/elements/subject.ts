import type { ElementDescription } from '../../describe/description.ts';
import type { CheckSpecimen, Said } from '../page/model.ts';

/** What is checked, wherever it comes from. */
export interface Subject {
  readonly description: ElementDescription;
  readonly specimens: readonly CheckSpecimen[];
  /** Where relative addresses in specimens lead, from the server's base. */
  readonly base: string;
  readonly foreign: boolean;
  /** What a manifest leaves out. */
  readonly unsaid: readonly Said[];
}
