/** Minifies style sheets. */
import { insertionMark, minifyCss } from '../project/minify-css.ts';
import type { Node } from '../project/syntax.ts';

/** The CSS of a template part: a CSS escape such as `content: '\201C'` has no cooked text. */
export function cssOf(quasi: Node): string {
  const { cooked, raw } = quasi['value'] as { cooked: string | null; raw: string };
  return cooked ?? raw;
}

/**
 * Minifies CSS with expressions, in the same number of parts. An expression may be any CSS, so what is around it stays.
 * @returns undefined if an expression is inside a comment, or no browser understands some of the text.
 */
export function minifyPieces(pieces: readonly string[]): readonly string[] | undefined {
  const whole = pieces.reduce((text, piece, at) => `${text}${insertion(at)}${piece}`);
  const { css, problem } = minifyCss(whole);
  if (problem) return undefined;
  const small: string[] = [];
  let rest = css;
  for (let at = 1; at < pieces.length; at++) {
    const place = rest.indexOf(insertion(at));
    if (place < 0) return undefined;
    small.push(rest.slice(0, place));
    rest = rest.slice(place + insertion(at).length);
  }
  return [...small, rest];
}

/** Why a sheet is not minified. */
export const becauseOf = (problem: string) => `${problem}, so its text is as long as it was written`;

/** The same for a sheet with expressions. */
export const keptPieces = becauseOf('an expression is in a comment, or a string has no end');

const insertion = (at: number) => insertionMark + at + insertionMark;

/** The code of a template literal's text. */
export const templateText = (text: string) => text.replace(/[`\\]|\$\{/g, found => `\\${found}`);
