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
  /** A change of the text that mends it for certain: what stands from `start` to `end` (offsets) becomes `text`. */
  readonly fix?: { readonly start: number; readonly end: number; readonly text: string };
}

/** In the order of a file's text. */
export function byPlace(a: Finding, b: Finding): number {
  return a.file < b.file ? -1 : a.file > b.file ? 1 : a.line - b.line || a.column - b.column;
}
