/** A rule: a property of every good element, and how to check it. */
import type { Failure } from '../model.ts';
import type { Stage } from '../stage.ts';

export interface Rule {
  /** A stable code with an anchor in docs/conformance.md. */
  readonly code: string;
  /** Whether it compares what the element shows with what it shows in another page, or on a server. */
  readonly comparesPages?: true;
  /** The reason why it does not apply to this element; undefined if it applies. */
  applies?(stage: Stage): string | undefined;
  /** @returns all findings. */
  run(stage: Stage): Promise<Failure | readonly Failure[] | undefined>;
}

export function failure(did: string, expected: string, seen: string, fix: string): Failure {
  return { did, expected, seen, fix };
}
