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
 * @param isCooked whether escapes are read: their lines are then filled with spaces at the end, and positions behind an
 *   escape in its line are some columns before the right ones.
 */
export function templateText(code: string, quasi: Node, filler: string, isCooked = false): string {
  let text = '';
  let done = quasi.start;
  for (const [index, { from, to }] of partsOf(quasi).entries()) {
    const part = code.slice(from, to);
    // Without a cooked text the escapes are those of CSS: `content: '\\201C'`.
    const isRaw = !isCooked || (quasi['quasis'] as Node[])[index]!['value']['cooked'] === null;
    text += blank(code.slice(done, from), index === 0 ? ' ' : filler);
    text += isRaw ? part : cooked(part);
    done = to;
  }
  return text + blank(code.slice(done, quasi.end));
}

/** An escape of a template literal (ECMAScript, TemplateCharacter), or a line break. */
const escapes = /\\(?:u\{([\da-fA-F]+)\}|u([\da-fA-F]{4})|x([\da-fA-F]{2})|([^\r\n]))|\\?(\r?\n)/g;
/** Line breaks become spaces, so that lines stay the same. */
const others: Readonly<Record<string, string>> = { b: '\b', f: '\f', n: ' ', r: ' ', t: '\t', v: '\v', 0: '\0' };

/** The text of a part with its escapes read, each line as long as before. */
function cooked(part: string): string {
  let owed = 0;
  const text = part.replace(escapes, (found: string, braced, four, two, other, end: string | undefined) => {
    const digits: string | undefined = braced ?? four ?? two;
    const sign = digits === undefined ? (others[other] ?? other) : String.fromCodePoint(Number.parseInt(digits, 16));
    owed += found.length - (end ?? sign).length;
    if (end === undefined) return sign;
    const line = ' '.repeat(owed) + end;
    owed = 0;
    return line;
  });
  return text + ' '.repeat(owed);
}

/** The text of a literal or of a template without expressions, as long as it is written without escapes. */
export function writtenText(code: string, node: Node | undefined): string | undefined {
  if (node?.type !== 'Literal' && !(node?.type === 'TemplateLiteral' && node['expressions'].length === 0))
    return undefined;
  const value: unknown = node.type === 'Literal' ? node['value'] : node['quasis'][0]['value']['cooked'];
  return typeof value === 'string' && code.slice(node.start + 1, node.end - 1) === value ? value : undefined;
}
