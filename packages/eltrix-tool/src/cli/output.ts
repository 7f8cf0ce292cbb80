/** The one door of the tool to the outside: findings to stdout, errors to stderr. */
import { styleText } from 'node:util';
import { toolVersion } from '../project/library.ts';
import { ToolError } from '../project/tool-error.ts';

export interface Output {
  print(text: string): void;
  complain(text: string): void;
  /** To stderr, without the end of a line. */
  write(text: string): void;
  /** Whether text is coloured. */
  readonly colours: boolean;
  /** Whether progress is shown, on a line that is written again. */
  readonly progress: boolean;
}

/** What the options of every command say. */
export const settings: { quiet: boolean; verbose: boolean; json: boolean; colours: boolean | undefined } = {
  quiet: false,
  verbose: false,
  json: false,
  colours: undefined,
};

function wantsColours({ FORCE_COLOR, NO_COLOR, TERM }: NodeJS.ProcessEnv, isTerminal: boolean): boolean {
  if (settings.colours !== undefined) return settings.colours;
  if (FORCE_COLOR !== undefined) return FORCE_COLOR !== '0' && FORCE_COLOR !== 'false';
  return isTerminal && !NO_COLOR && TERM !== 'dumb';
}

export const terminal: Output = {
  print(text) {
    // What a machine asked for is printed all the same.
    if (!settings.quiet || settings.json) process.stdout.write(`${text}\n`);
  },
  complain: text => void process.stderr.write(`${text}\n`),
  write: text => void process.stderr.write(text),
  // As the options and the usual variables say; FORCE_COLOR=0 switches colours off.
  get colours() {
    return wantsColours(process.env, Boolean(process.stdout.isTTY));
  },
  get progress() {
    return Boolean(process.stderr.isTTY) && process.env['TERM'] !== 'dumb' && !process.env['CI'] && !settings.quiet;
  },
};

export function paint(output: Output, style: Parameters<typeof styleText>[0], text: string): string {
  // Whether colours are wanted has been decided.
  return output.colours ? styleText(style, text, { validateStream: false }) : text;
}

/** Bytes as people read them: 812 B, 2.31 kB. */
export function bytes(count: number): string {
  return count < 1000 ? `${count} B` : `${(count / 1000).toFixed(2)} kB`;
}

/** A table: the first column to the left, the others to the right. */
export function table(heads: readonly string[], rows: readonly (readonly string[])[]): string[] {
  const widths = heads.map((head, column) => Math.max(head.length, ...rows.map(row => row[column]!.length)));
  const line = (cells: readonly string[]) =>
    cells
      .map((cell, column) => (column === 0 ? cell.padEnd(widths[column]!) : cell.padStart(widths[column]!)))
      .join('   ')
      .trimEnd();
  return [line(heads), ...rows.map(line)];
}

/** What the exit code of a fault of the tool itself is (sysexits: EX_SOFTWARE). */
export const faulty = 70;

/** A fault of the tool, not of what it was given. */
export function complainOfFault(error: unknown, output: Output): number {
  const { message, stack = '' } = error instanceof Error ? error : new Error(String(error));
  const places = stack.split('\n').filter(line => /^\s+at /.test(line));
  output.complain(
    `eltrix ${paint(output, 'red', 'fault')} (internal): ${message}\n` +
      `This is a fault of eltrix-tool ${toolVersion()}, not of your files. Please report it with these lines, what you called, and the file that it was about:\n` +
      `Node ${process.version}, ${process.platform} ${process.arch}\n${places.slice(0, 6).join('\n')}`,
  );
  return faulty;
}

/** Prints an error by its kind, and returns the exit code. */
export function complainOf(error: unknown, output: Output): number {
  if (!(error instanceof ToolError)) return complainOfFault(error, output);
  const { position, code, message, excerpt } = error;
  if (settings.json) output.print(JSON.stringify({ error: { code, message, ...position } }, null, 2));
  const where = position
    ? [position.file, position.line, position.column].filter(part => part !== undefined).join(':')
    : 'eltrix';
  output.complain(`${where} ${paint(output, 'red', 'error')} (${code}): ${message}`);
  if (excerpt) output.complain(`\n${excerpt}`);
  if (settings.verbose && error.stack) output.complain(`\n${error.stack}`);
  return error.exitCode;
}

/** One line on a terminal that says what is being done; nothing in a pipe. */
export class Progress {
  readonly #output: Output;
  #shown = false;

  constructor(output: Output) {
    this.#output = output;
  }

  show(step: string): void {
    if (!this.#output.progress) return;
    this.#output.write(`\r\u001b[K${step} …`);
    this.#shown = true;
  }

  end(): void {
    if (this.#shown) this.#output.write('\r\u001b[K');
    this.#shown = false;
  }
}
