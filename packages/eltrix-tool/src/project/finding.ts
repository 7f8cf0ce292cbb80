/** A finding in the user's files, as data; text is one way to print it. */
export interface Finding {
  /** A stable code, with an anchor in docs/messages.md. */
  readonly code: string;
  /** The problem, and what to type. */
  readonly message: string;
  /** Relative to the project's folder. */
  readonly file: string;
  /** From 1. */
  readonly line: number;
  readonly column: number;
  /** The edits that fix it, if there is exactly one fix. */
  readonly edits?: readonly Edit[];
}

/** Replaces the text from `start` to `end` (offsets in the file) by `text`. */
export interface Edit {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** Applies edits to a text; of overlapping edits the first one counts. */
export function edited(text: string, edits: readonly Edit[]): string {
  let result = '';
  let done = 0;
  for (const edit of [...edits].sort((a, b) => a.start - b.start)) {
    if (edit.start < done) continue;
    result += text.slice(done, edit.start) + edit.text;
    done = edit.end;
  }
  return result + text.slice(done);
}

/** In the order of their positions in the file. */
export function byPlace(a: Finding, b: Finding): number {
  return a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line || a.column - b.column;
}
