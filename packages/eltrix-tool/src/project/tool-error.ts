/** Where something stands in a source file; line and column from 1. */
export interface Position {
  readonly file: string;
  readonly line?: number;
  readonly column?: number;
}

/** What stops the tool: text for people, and the same as data. */
export class ToolError extends Error {
  override readonly name = 'ToolError';

  constructor(
    /** A stable word. */
    readonly code: string,
    message: string,
    readonly position?: Position,
    /** The lines around the position, marked. */
    readonly excerpt?: string,
    /** 1: a finding in the user's files; 2: the tool was called wrongly. */
    readonly exitCode: 1 | 2 = 1,
  ) {
    super(message);
  }
}

/** The lines around a position, with a mark under the column. */
export function excerptOf(source: string, line: number, column: number): string {
  const lines = source.split('\n');
  const from = Math.max(0, line - 3);
  const to = Math.min(lines.length, line + 2);
  const width = String(to).length;
  const shown: string[] = [];
  for (let i = from; i < to; i++) {
    const mark = i === line - 1 ? '>' : ' ';
    shown.push(`${mark} ${String(i + 1).padStart(width)} | ${lines[i]}`);
    if (i === line - 1) shown.push(`  ${' '.repeat(width)} | ${' '.repeat(Math.max(0, column - 1))}^`);
  }
  return shown.join('\n');
}
