import type { Node } from './syntax.ts';

/** Replaces characters by spaces and keeps line breaks, so that later positions stay the same. */
export const blank = (text: string, by = ' '): string => text.replace(/[^\r\n]/g, by);

/** Where each part of a template literal's text begins and ends in its source. */
export function partsOf({ start, quasis }: Node): readonly { readonly from: number; readonly to: number }[] {
  const parts = quasis as Node[];
  // In some syntax trees the delimiters of a part belong to its node.
  const [before, after] = parts[0]?.start === start ? [1, 2] : [0, 0];
  return parts.map(part => ({ from: part.start + before, to: part.end - (after && (part['tail'] ? 1 : 2)) }));
}

/**
 * A template as text of the same length as in its source.
 *
 * @param quasi the template, a `TemplateLiteral`.
 * @param filler replaces each character of an expression.
 */
export function templateText(code: string, quasi: Node, filler: string): string {
  let text = '';
  let done = quasi.start;
  for (const [index, { from, to }] of partsOf(quasi).entries()) {
    text += blank(code.slice(done, from), index === 0 ? ' ' : filler) + code.slice(from, to);
    done = to;
  }
  return text + blank(code.slice(done, quasi.end));
}
