/** The tokens of CSS (CSS Syntax 3 §4). */
import { tokenize, tokenTypes } from 'css-tree/tokenizer';
import { ident } from 'css-tree/utils';

const { Comment, LeftCurlyBracket, LeftParenthesis, LeftSquareBracket, WhiteSpace } = tokenTypes;

export interface CssToken {
  readonly type: number;
  readonly text: string;
  /** Where it begins and ends in the CSS. */
  readonly start: number;
  readonly end: number;
  /** Whether white space precedes it. */
  readonly isApart: boolean;
}

/** The tokens except white space and comments. */
export function cssTokens(css: string): readonly CssToken[] {
  const tokens: CssToken[] = [];
  let isApart = false;
  tokenize(css, (type, start, end) => {
    if (type === WhiteSpace) isApart = true;
    else if (type !== Comment) {
      tokens.push({ type, text: css.slice(start, end), start, end, isApart });
      isApart = false;
    }
  });
  return tokens;
}

/** A name as it is meant: `hive-card\\.v2` is the tag `hive-card.v2` (CSS Syntax 3 §4.3.7). */
export const cssName = (written: string): string => (written.includes('\\') ? ident.decode(written) : written);

/** A name as a style sheet writes it. */
export const writtenName = (name: string): string => ident.encode(name);

/** The identifiers of a text, as those in `::part(box badge)`. Positions are offsets in the text. */
export function identifiersIn(text: string): { readonly name: string; readonly start: number; readonly end: number }[] {
  return cssTokens(text)
    .filter(({ type }) => type === tokenTypes.Ident)
    .map(({ text, start, end }) => ({ name: cssName(text), start, end }));
}

/** The closing brackets, by the opening ones. */
export const closing = new Map<number, number>([
  [LeftCurlyBracket, tokenTypes.RightCurlyBracket],
  [LeftParenthesis, tokenTypes.RightParenthesis],
  [tokenTypes.Function, tokenTypes.RightParenthesis],
  [LeftSquareBracket, tokenTypes.RightSquareBracket],
]);
