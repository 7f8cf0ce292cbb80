/** What a rule is: something that every good element does, and how to check it. */
import type { Failure } from '../model.ts';
import type { Stage } from '../stage.ts';

export interface Rule {
  /** A stable word with an anchor in docs/conformance.md. */
  readonly code: string;
  /** Why it says nothing of this element; undefined if it applies. */
  applies?(stage: Stage): string | undefined;
  /** @returns all that is wrong, if anything. */
  run(stage: Stage): Promise<Failure | readonly Failure[] | undefined>;
}

export function failure(did: string, expected: string, seen: string, fix: string): Failure {
  return { did, expected, seen, fix };
}
