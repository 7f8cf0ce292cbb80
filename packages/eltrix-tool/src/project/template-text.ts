import type { Node } from './syntax.ts';

/** Characters blank, lines kept: what follows stays where it is. */
export const blank = (text: string, by = ' '): string => text.replace(/[^\r\n]/g, by);

/**
 * A template as text of the same length as in its source.
 *
 * @param quasi the template, a `TemplateLiteral`.
 * @param filler what stands for each character of an expression.
 */
export function templateText(code: string, { start, end, quasis }: Node, filler: string): string {
  let text = '';
  let done = start;
  for (const quasi of quasis as Node[]) {
    // A quasi's own range may or may not hold its delimiters.
    const raw = quasi['value'].raw as string;
    const from = code.indexOf(raw, done);
    text += blank(code.slice(done, from), done === start ? ' ' : filler) + raw;
    done = from + raw.length;
  }
  return text + blank(code.slice(done, end));
}
