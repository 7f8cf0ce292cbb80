/** Messages between the page of tests and its server. */
import type { TreeEvent } from '../engines/run/tree.ts';
import type { RegisteredTest } from '../testing/plan.ts';

/** Sent as server-sent events. */
export type RunnerMessage =
  | { readonly type: 'project'; readonly project: string; readonly files: readonly string[] }
  /** The page of tests in the frame. */
  | { readonly type: 'frame'; readonly address: string }
  | { readonly type: 'registered'; readonly file: string; readonly tests: readonly RegisteredTest[] }
  /** The results of a file are outdated: it runs again. */
  | { readonly type: 'again'; readonly file: string }
  | { readonly type: 'event'; readonly file: string; readonly event: TreeEvent }
  /** Whether tests are running. */
  | { readonly type: 'running'; readonly running: boolean };

/** Posted to `run`: files, or tests of a file by number. An empty list stops the run. */
export type RunRequest = readonly { readonly file: string; readonly tests?: readonly number[] }[];
