/** A position in a source file; line and column from 1. */
export interface Position {
  readonly file: string;
  readonly line?: number;
  readonly column?: number;
}

/** An error that stops the tool: text for people, and data. */
export class ToolError extends Error {
  override readonly name = 'ToolError';
  /** The code, where a bundler has overwritten it. */
  readonly pluginCode?: string;

  constructor(
    /** A stable code. */
    readonly code: string,
    message: string,
    readonly position?: Position,
    /** The lines around the position, with a mark. */
    readonly excerpt?: string,
    /** 1: a finding in the user's files; 2: wrong use of the tool. */
    readonly exitCode: 1 | 2 = 1,
  ) {
    super(message);
  }
}

/** An exported class, as an example in messages. */
const example = "export class MyCard extends contract('my-card', {}) {}";

/** @param purpose why elements are needed, as the end of a sentence. */
export function noElements(source: string, purpose = ''): ToolError {
  return new ToolError(
    'no-elements',
    purpose
      ? `There is no exported element class under "${source}"${purpose}`
      : `There is no exported element class under "${source}". Export one: ${example}`,
    undefined,
    undefined,
    purpose ? 2 : 1,
  );
}

/** The lines around a position, with a mark under the column. */
export function excerptOf(source: string, line: number, column: number): string {
  const lines = source.split(/\r?\n/);
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
