/** The input and the events of a test run. */
import type { ReportedError } from './serialize.ts';

export interface TestOptions {
  readonly skip?: boolean | string;
  readonly todo?: boolean | string;
  readonly only?: boolean;
  /** The time limit, in milliseconds. */
  readonly timeout?: number;
  readonly signal?: AbortSignal;
}

/** The plan of a run. */
export interface RunPlan {
  /** The seed of the random order; null keeps the order as written. */
  readonly seed: number | null;
  /** Only tests whose names, or whose suites' names, match one of these patterns. */
  readonly match: readonly string[];
  /** How often each test runs. */
  readonly times: number;
  /** Only these tests, by number, in this order. */
  readonly order: readonly number[] | null;
  /** Tests that have run in a page that was lost. */
  readonly done: readonly number[];
  /** The default time limit of a test, in milliseconds. */
  readonly timeout: number;
  /** Whether leftovers fail a test. */
  readonly clean: boolean;
}

/** A registered test. */
export interface RegisteredTest {
  readonly id: number;
  /** Including the names of its suites. */
  readonly name: string;
  readonly path: readonly string[];
}

export type RunEvent =
  /** Output outside suites and tests. */
  | { readonly type: 'said'; readonly printed: readonly string[] }
  | {
      readonly type: 'start';
      /** Registered tests are numbered in the order of the file; subtests get larger numbers. */
      readonly id: number;
      readonly parent: number | null;
      readonly name: string;
      readonly suite: boolean;
      /** The latest time at which it ends, in milliseconds. */
      readonly timeout: number;
      /** The stack of its registration. */
      readonly site: string;
    }
  | {
      readonly type: 'end';
      readonly id: number;
      readonly outcome: 'passed' | 'failed' | 'skipped' | 'todo';
      readonly reason?: string;
      readonly milliseconds: number;
      readonly error?: ReportedError;
      /** The content of the page at the failure, as text. */
      readonly page?: string;
      /** Uncaught errors before the failure. */
      readonly uncaught?: readonly ReportedError[];
      readonly diagnostics: readonly string[];
    };

/** The stored snapshots of a test page. */
export interface StoredSnapshots {
  /** By the numbered names of the tests. */
  readonly known: Readonly<Record<string, string>>;
  /** Whether a different snapshot is stored instead of failing. */
  readonly accept: boolean;
}

/** A snapshot, for the tool: it stores accepted ones, and knows which ones are used. */
export type SnapshotMessage =
  | { readonly type: 'snapshot'; readonly key: string; readonly text: string }
  | { readonly type: 'inline-snapshot'; readonly site: string; readonly text: string };
