import type { Node } from '../project/syntax.ts';

/** One edit of the source. Nodes in `parts` keep their place, with text around them. */
export interface Edit {
  readonly start: number;
  readonly end: number;
  readonly parts: readonly (string | Node)[];
}

/** Code with nodes of the source, in their order. */
export type Code = readonly (string | Node)[];
