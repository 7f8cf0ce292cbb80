/** Minifies style sheets. */
import { transform } from 'lightningcss';
import type { Node } from '../project/syntax.ts';

/** The CSS of a template part: a CSS escape such as `content: '\201C'` has no cooked text. */
export function cssOf(quasi: Node): string {
  const { cooked, raw } = quasi['value'] as { cooked: string | null; raw: string };
  return cooked ?? raw;
}

/** @returns the minified CSS; or the unchanged CSS and the reason, if some of it is not understood. */
export function minifyCss(css: string): { readonly css: string; readonly problem?: string } {
  try {
    const { code, warnings } = transform({
      filename: 'sheet.css',
      code: Buffer.from(css),
      minify: true,
      errorRecovery: true,
    });
    const [warning] = warnings;
    // Unknown syntax would be lost.
    if (warning) return { css, problem: warning.message };
    return { css: code.toString() };
  } catch (error) {
    return { css, problem: error instanceof Error ? error.message : String(error) };
  }
}

const expressionName = '--eltrix-expression-';
const expression = (at: number) => `var(${expressionName}${at})`;

/** The reason why `minifyPieces` leaves a sheet unchanged. */
export const looseExpression =
  'it has an expression that is more than a part of a value, so its text is as long as it was written';

/**
 * Minifies CSS with expressions, in the same number of parts.
 * @returns undefined if an expression is more than a part of a declaration's value, since it may then contain any CSS.
 */
export function minifyPieces(pieces: readonly string[]): readonly string[] | undefined {
  for (let at = 1; at < pieces.length; at++) {
    const before = pieces.slice(0, at).join(' x ');
    const after = pieces.slice(at).join(' x ');
    if (!isInValue(before, after)) return undefined;
  }
  const { css, problem } = minifyCss(pieces.reduce((text, piece, at) => text + expression(at - 1) + piece));
  if (problem) return undefined;
  const small: string[] = [];
  let rest = css;
  for (let at = 0; at < pieces.length - 1; at++) {
    const place = rest.indexOf(expression(at));
    if (place < 0) return undefined;
    small.push(rest.slice(0, place));
    rest = rest.slice(place + expression(at).length);
  }
  small.push(rest);
  if (small.some(piece => piece.includes(expressionName))) return undefined;
  // `${size}px` is one token, and has to stay one.
  const joined = (texts: readonly string[]) =>
    texts
      .slice(1)
      .map((piece, at) => [/[\w%.#-]$/.test(texts[at]!), /^[\w%.#-]/.test(piece)].join())
      .join(';');
  return joined(small) === joined(pieces) ? small : undefined;
}

/** Whether the text between two parts belongs to a declaration's value. */
function isInValue(before: string, after: string): boolean {
  const plain = (css: string) => css.replace(/\/\*[^]*?\*\/|"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g, ' ');
  const [, last = ''] = /([:;{}])[^:;{}]*$/.exec(plain(before)) ?? [];
  const [next = ''] = /[;{}]/.exec(plain(after)) ?? [];
  // Open quotes and comments would hide its meaning.
  const isOpen = /["']|\/\*/.test(plain(before).replace(/\bx\b/g, ''));
  return !isOpen && last === ':' && (next === ';' || next === '}');
}

/** The code of a template literal's text. */
export const templateText = (text: string) => text.replace(/[`\\]|\$\{/g, found => `\\${found}`);
