/** All output of the tool: findings to stdout, errors to stderr. */
import { styleText } from 'node:util';
import { toolVersion } from '../project/library.ts';
import { ToolError } from '../project/tool-error.ts';

export interface Output {
  print(text: string): void;
  complain(text: string): void;
  /** To stderr, without a line break. */
  write(text: string): void;
  /** Whether text is coloured. */
  readonly colours: boolean;
  /** Whether progress is shown, on a line that is overwritten. */
  readonly progress: boolean;
}

/** The values of the options of all commands. */
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
    // Machine-readable output is printed even with --quiet.
    if (!settings.quiet || settings.json) process.stdout.write(`${text}\n`);
  },
  complain: text => void process.stderr.write(`${text}\n`),
  write: text => void process.stderr.write(text),
  // From the options and the usual variables; FORCE_COLOR=0 switches colours off.
  get colours() {
    return wantsColours(process.env, Boolean(process.stdout.isTTY));
  },
  get progress() {
    return Boolean(process.stderr.isTTY) && process.env['TERM'] !== 'dumb' && !process.env['CI'] && !settings.quiet;
  },
};

export function paint(output: Output, style: Parameters<typeof styleText>[0], text: string): string {
  // `text` has decided whether to use colours.
  return output.colours ? styleText(style, text, { validateStream: false }) : text;
}

/** Formats bytes: 812 B, 2.31 kB. */
export function bytes(count: number): string {
  return count < 1000 ? `${count} B` : `${(count / 1000).toFixed(2)} kB`;
}

/** A table: the first column left-aligned, the others right-aligned. */
export function table(heads: readonly string[], rows: readonly (readonly string[])[]): string[] {
  const widths = heads.map((head, column) => Math.max(head.length, ...rows.map(row => row[column]!.length)));
  const line = (cells: readonly string[]) =>
    cells
      .map((cell, column) => (column === 0 ? cell.padEnd(widths[column]!) : cell.padStart(widths[column]!)))
      .join('   ')
      .trimEnd();
  return [line(heads), ...rows.map(line)];
}

/** The exit code for a fault of the tool (sysexits: EX_SOFTWARE). */
export const faulty = 70;

/** A fault of the tool, not of its input. */
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

/** A progress line on a terminal; nothing in a pipe. */
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
