/** Something that is wrong in the user's files: data, of which text is one rendering. */
export interface Finding {
  /** A stable word, with an anchor in docs/messages.md. */
  readonly code: string;
  /** What is wrong with what, and what to type. */
  readonly message: string;
  /** From the project's folder. */
  readonly file: string;
  /** From 1. */
  readonly line: number;
  readonly column: number;
  /** Changes of the text that fix it, if there is exactly one fix. */
  readonly edits?: readonly Edit[];
}

/** What stands from `start` to `end` (offsets in the file's text) becomes `text`. */
export interface Edit {
  readonly start: number;
  readonly end: number;
  readonly text: string;
}

/** A text with edits made; of those that overlap the first is. */
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

/** In the order of a file's text. */
export function byPlace(a: Finding, b: Finding): number {
  return a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line || a.column - b.column;
}
