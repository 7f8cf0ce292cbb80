/** Prints findings: position, code, message, and source lines. */
import type { Finding } from '../project/finding.ts';
import { excerptOf } from '../project/tool-error.ts';
import { type Output, paint } from './output.ts';

export const counted = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? '' : 's'}`;

/**
 * @param texts of the files with findings.
 * @param checked the number of checked things: `3 pages`.
 * @param fixed the number of fixed findings.
 */
export function printFindings(
  findings: readonly Finding[],
  texts: ReadonlyMap<string, string>,
  checked: string,
  print: (text: string) => void,
  output: Output,
  fixed = 0,
): void {
  for (const { code, message, file, line, column, edits } of findings) {
    const fix = edits ? ' [--fix fixes it]' : '';
    print(`${file}:${line}:${column} ${paint(output, 'red', 'finding')} (${code}): ${message}${fix}`);
    const text = texts.get(file);
    if (text) print(paint(output, 'dim', shortExcerpt(text, line, column)));
  }
  const fixes = fixed > 0 ? ` ${fixed} fixed.` : '';
  print(
    findings.length === 0
      ? `${checked}, 0 findings.${fixes}`
      : `\n${checked}, ${counted(findings.length, 'finding')}.${fixes}`,
  );
}

/** The line and a mark under it; long generated lines are shortened. */
function shortExcerpt(text: string, line: number, column: number): string {
  const own = text.split(/\r?\n/)[line - 1] ?? '';
  const from = Math.max(0, column - 60);
  return excerptOf(own.slice(from, from + 110), 1, column - from)
    .replace(/^> 1 /gm, `> ${line} `)
    .replace(/^ {3} \|/gm, `${' '.repeat(String(line).length + 2)} |`);
}
