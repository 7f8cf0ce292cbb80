import type { Node } from './syntax.ts';

/** Replaces characters by spaces and keeps line breaks, so that later positions stay the same. */
export const blank = (text: string, by = ' '): string => text.replace(/[^\r\n]/g, by);

/**
 * A template as text of the same length as in its source.
 *
 * @param quasi the template, a `TemplateLiteral`.
 * @param filler replaces each character of an expression.
 */
export function templateText(code: string, { start, end, quasis }: Node, filler: string): string {
  let text = '';
  let done = start;
  for (const quasi of quasis as Node[]) {
    // A quasi's range may include its delimiters.
    const raw = quasi['value'].raw as string;
    const from = code.indexOf(raw, done);
    text += blank(code.slice(done, from), done === start ? ' ' : filler) + raw;
    done = from + raw.length;
  }
  return text + blank(code.slice(done, end));
}
