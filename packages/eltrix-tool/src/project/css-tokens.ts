/** The tokens of CSS (CSS Syntax 3 §4). */
import { tokenize, tokenTypes } from 'css-tree/tokenizer';

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

/** The closing brackets, by the opening ones. */
export const closing = new Map<number, number>([
  [LeftCurlyBracket, tokenTypes.RightCurlyBracket],
  [LeftParenthesis, tokenTypes.RightParenthesis],
  [tokenTypes.Function, tokenTypes.RightParenthesis],
  [LeftSquareBracket, tokenTypes.RightSquareBracket],
]);
