import type { Attachment } from './stored/pictures.ts';

/** A run as a tree: engine, file, suites, tests. */
export type TreeEvent =
  | {
      readonly type: 'start';
      readonly id: string;
      readonly parent: string | null;
      readonly name: string;
      readonly suite: boolean;
      /** The position in the source: an absolute path, line and column from 1. */
      readonly at?: { readonly path: string; readonly line: number; readonly column: number } | undefined;
    }
  | {
      readonly type: 'end';
      readonly id: string;
      readonly outcome: 'passed' | 'failed' | 'skipped' | 'todo';
      readonly reason?: string | undefined;
      /** The duration in the page; measured here otherwise. */
      readonly milliseconds?: number | undefined;
      readonly error?: TreeError | undefined;
      readonly diagnostics: readonly string[];
      /** Pictures for reports that show them. */
      readonly attachments?: readonly Attachment[] | undefined;
    }
  /** A line of text, beside the report. */
  | { readonly type: 'note'; readonly text: string };

/** An error, ready to be printed. */
export interface TreeError {
  readonly name: string;
  readonly message: string;
  readonly stack: string;
  readonly code?: string | undefined;
  readonly expected?: string | undefined;
  readonly actual?: string | undefined;
  /** The content of the page, as text. */
  readonly page?: string | undefined;
}

/** The input of a reporter, in Node's format. */
export interface ReportEvent {
  readonly type: string;
  readonly data: object;
}
