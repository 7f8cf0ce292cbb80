/** What the page of tests and its server send each other. */
import type { TreeEvent } from '../engines/run/tree.ts';
import type { RegisteredTest } from '../testing/plan.ts';

/** Sent as server-sent events. */
export type RunnerMessage =
  | { readonly type: 'project'; readonly project: string; readonly files: readonly string[] }
  /** The page of tests that the frame shows. */
  | { readonly type: 'frame'; readonly address: string }
  | { readonly type: 'registered'; readonly file: string; readonly tests: readonly RegisteredTest[] }
  /** What the server knew of a file no longer holds: it runs again from its beginning. */
  | { readonly type: 'again'; readonly file: string }
  | { readonly type: 'event'; readonly file: string; readonly event: TreeEvent }
  /** Whether tests run now. */
  | { readonly type: 'running'; readonly running: boolean };

/** Posted to `run`: files, or tests of a file by number. An empty list stops what runs. */
export type RunRequest = readonly { readonly file: string; readonly tests?: readonly number[] }[];
