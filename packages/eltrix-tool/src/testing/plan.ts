/** The input and the events of a test run. */
import type { ReportedError } from './serialize.ts';

export interface TestOptions {
  readonly skip?: boolean | string;
  readonly todo?: boolean | string;
  readonly only?: boolean;
  /** Milliseconds; the test fails after them. */
  readonly timeout?: number;
  readonly signal?: AbortSignal;
}

/** What a run is to do. */
export interface RunPlan {
  /** Seed of the random order; null keeps the order as written. */
  readonly seed: number | null;
  /** Only tests whose names, or whose suites' names, match one of these patterns. */
  readonly match: readonly string[];
  /** How often each test runs. */
  readonly times: number;
  /** Only these tests, by number, in this order. */
  readonly order: readonly number[] | null;
  /** Tests that ran already, in a page that was lost. */
  readonly done: readonly number[];
  /** Milliseconds that a test has unless it says otherwise. */
  readonly timeout: number;
  /** Whether what a test leaves behind fails it. */
  readonly clean: boolean;
}

/** A test of a file, before it runs. */
export interface RegisteredTest {
  readonly id: number;
  /** With the names of the suites around it. */
  readonly name: string;
  readonly path: readonly string[];
}

export type RunEvent =
  /** What was printed outside of all suites and tests. */
  | { readonly type: 'said'; readonly printed: readonly string[] }
  | {
      readonly type: 'start';
      /** Tests that a file registers are numbered in its order; subtests get larger numbers. */
      readonly id: number;
      readonly parent: number | null;
      readonly name: string;
      readonly suite: boolean;
      /** Milliseconds after which it is over in any case. */
      readonly timeout: number;
      /** Where it was registered: the stack there. */
      readonly site: string;
    }
  | {
      readonly type: 'end';
      readonly id: number;
      readonly outcome: 'passed' | 'failed' | 'skipped' | 'todo';
      readonly reason?: string;
      readonly milliseconds: number;
      readonly error?: ReportedError;
      /** What the page showed when the test failed, as text. */
      readonly page?: string;
      /** Uncaught errors before it failed. */
      readonly uncaught?: readonly ReportedError[];
      readonly diagnostics: readonly string[];
    };

/** What a test page knows of stored snapshots. */
export interface StoredSnapshots {
  /** By the names of the tests, numbered. */
  readonly known: Readonly<Record<string, string>>;
  /** Whether what differs is stored in place of failing. */
  readonly accept: boolean;
}

/** What a snapshot was, for the tool: it stores what is accepted, and knows which ones are used. */
export type SnapshotMessage =
  | { readonly type: 'snapshot'; readonly key: string; readonly text: string }
  | { readonly type: 'inline-snapshot'; readonly site: string; readonly text: string };
