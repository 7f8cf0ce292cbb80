/**
 * Minifies CSS by its tokens (CSS Syntax 3 §4): only white space, comments and zeros that no browser looks at are left
 * out. What the CSS means need not be known for that, so it stays the same in every engine, however new it is.
 */
import { tokenTypes } from 'css-tree/tokenizer';
import { type CssToken, closing, cssTokens } from './css-tokens.ts';
import { positionIn } from './text-position.ts';

const { Ident, AtKeyword, Colon, Semicolon, Comma, Delim, BadString, BadUrl } = tokenTypes;
const { LeftCurlyBracket, RightCurlyBracket, LeftParenthesis } = tokenTypes;

/** Marks a place where CSS is inserted later: its number between two marks. */
export const insertionMark = '\u{10fffd}';

/** A statement of a sheet or block, up to the block that follows it, its semicolon, or the end of the block around. */
interface Statement {
  /** A query has conditions in brackets: `@media (width > 10px)`. */
  readonly kind: 'declaration' | 'custom property' | 'query' | 'at-rule' | 'rule';
  readonly tokens: readonly CssToken[];
  /** The token after it. */
  readonly next: CssToken | undefined;
}

/** @returns the minified CSS; or the unchanged CSS and the reason, if it has tokens that no browser understands. */
export function minifyCss(css: string): { readonly css: string; readonly problem?: string } {
  const tokens = cssTokens(css);
  const bad = tokens.find(({ type }) => type === BadString || type === BadUrl);
  if (bad)
    return {
      css,
      problem: `line ${positionIn(css, bad.start).line} of it has a ${bad.type === BadUrl ? 'url()' : 'string'} without an end`,
    };
  let small = '';
  let depth = 0;
  for (let at = 0; at < tokens.length; ) {
    const statement = statementAt(tokens, at, depth > 0);
    small += textOf(statement, css);
    at += statement.tokens.length;
    const { next } = statement;
    if (!next) break;
    at++;
    if (next.type === LeftCurlyBracket) depth++;
    else if (next.type === RightCurlyBracket) depth = Math.max(0, depth - 1);
    // The last declaration of a block needs no semicolon.
    const isLast =
      tokens[at]?.type === RightCurlyBracket &&
      /^(?:declaration|custom property)$/.test(statement.kind) &&
      !small.endsWith(' ');
    if (next.type !== Semicolon || !isLast) small += next.text;
  }
  return { css: small };
}

const queries = /^@(?:media|supports|container)$/i;

/** Properties and descriptors whose text scripts and style queries see, and names of which escapes may be such. */
const seenAsWritten = /^(?:--|initial-value$|result$)|\\/i;

function statementAt(tokens: readonly CssToken[], start: number, isInBlock: boolean): Statement {
  const [first, second] = [tokens[start]!, tokens[start + 1]];
  const isNamed = isInBlock && first.type === Ident && second?.type === Colon;
  // The name of an inserted property is not known.
  const isCustom = isNamed && (seenAsWritten.test(first.text) || first.text.includes(insertionMark));
  const open: number[] = [];
  let at = start;
  for (; at < tokens.length; at++) {
    const { type } = tokens[at]!;
    const isEnd = type === Semicolon || type === RightCurlyBracket || (type === LeftCurlyBracket && !isCustom);
    if (open.length === 0 && isEnd) break;
    const close = closing.get(type);
    if (close !== undefined) open.push(close);
    else if (type === open.at(-1)) open.pop();
  }
  const next = tokens[at];
  const kind = isCustom
    ? 'custom property'
    : isNamed && next?.type !== LeftCurlyBracket
      ? 'declaration'
      : first.type !== AtKeyword
        ? 'rule'
        : queries.test(first.text)
          ? 'query'
          : 'at-rule';
  return { kind, tokens: tokens.slice(start, at), next };
}

/** The text of a statement, without what follows it. */
function textOf({ kind, tokens }: Statement, css: string): string {
  // A style query compares texts. What is inserted may be declarations, and what follows it a custom property.
  const isKept = tokens.some(
    ({ type, text }) =>
      (type === tokenTypes.Function && /^style\($/i.test(text)) || (kind === 'rule' && text.includes(insertionMark)),
  );
  if (isKept && kind !== 'custom property') return css.slice(tokens[0]!.start, tokens.at(-1)!.end);
  if (kind === 'custom property') {
    const [name, colon, value] = tokens;
    // Scripts see its value as written. An empty value is a space.
    return name!.text + colon!.text + (value ? css.slice(value.start, tokens.at(-1)!.end) : ' ');
  }
  let text = '';
  const open: CssToken[] = [];
  let before: CssToken | undefined;
  for (const token of tokens) {
    const close = open.length > 0 && closing.get(open.at(-1)!.type) === token.type;
    if (close) open.pop();
    const part = kind === 'declaration' ? token.text.replace(/^([+-]?)0(\.\d)/, '$1$2') : token.text;
    if (before) {
      const isFree =
        close ||
        closing.has(before.type) ||
        token.type === Comma ||
        before.type === Comma ||
        isFreeIn(kind, open, token, before) ||
        isFreeIn(kind, open, before, token);
      if (token.isApart && !isFree) text += ' ';
      else if (!staysApart(before, token)) text += token.isApart ? ' ' : '/**/';
    }
    text += part;
    before = token;
    if (closing.has(token.type)) open.push(token);
  }
  return text;
}

/** Whether white space between a token and another one means nothing. */
function isFreeIn(
  kind: Statement['kind'],
  open: readonly CssToken[],
  { type, text }: CssToken,
  other: CssToken,
): boolean {
  if (type !== Colon && type !== Delim) return false;
  const around = open.at(-1);
  if (kind === 'declaration') return (type === Colon && !around) || text === '!' || text === '/';
  if (kind === 'rule') return !around && /^[>+~]$/.test(text);
  // `> =` is not one sign.
  const isSign = /^[<>=]$/.test(text) && other.type !== Delim;
  return kind === 'query' && around?.type === LeftParenthesis && (type === Colon || isSign);
}

/** Whether two tokens stay two without anything between them. */
function staysApart(before: CssToken, token: CssToken): boolean {
  if (before.end === token.start) return true;
  const pair = cssTokens(before.text + token.text);
  return pair.length === 2 && pair[0]!.text === before.text && pair[1]!.type === token.type;
}
