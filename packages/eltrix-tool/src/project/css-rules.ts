/** The rules of a style sheet, nested ones included (CSS Syntax 3, CSS Nesting 1), and their selectors. */
import type { Selector } from 'css-tree';
import parse from 'css-tree/parser';
import { tokenTypes } from 'css-tree/tokenizer';
import walk from 'css-tree/walker';
import { type CssToken, closing, cssName, cssTokens } from './css-tokens.ts';

/** The contents of a block. Positions are offsets in the sheet. */
export interface CssBlock {
  readonly rules: readonly CssRule[];
  readonly declarations: readonly { readonly name: string; readonly start: number; readonly end: number }[];
}

/** A style rule, or an at-rule with a block. */
export interface CssRule extends CssBlock {
  /** The name of an at-rule, in lower case, without its `@`. */
  readonly at: string | undefined;
  /** The text before the block, and where it begins. */
  readonly prelude: string;
  readonly start: number;
}

const { AtKeyword, Colon, Ident, LeftCurlyBracket, RightCurlyBracket, Semicolon } = tokenTypes;

/** Rules nested deeper are left out, so that callers may use recursion. */
const deepest = 100;

/** What cannot be read is left out. */
export function parseCss(css: string): CssBlock {
  const tokens = cssTokens(css);
  let next = 0;

  /** Moves to a token of some types outside of brackets. */
  const passUntil = (...types: number[]): CssToken | undefined => {
    const open: number[] = [];
    for (; next < tokens.length; next++) {
      const { type } = tokens[next]!;
      if (open.length === 0 && types.includes(type)) break;
      const close = closing.get(type);
      if (type === open.at(-1)) open.pop();
      else if (close !== undefined) open.push(close);
    }
    return tokens[next];
  };

  const emptyBlock = () => ({ rules: [] as CssRule[], declarations: [] as CssBlock['declarations'][number][] });
  const sheet = emptyBlock();
  const around = [sheet];
  for (let first = tokens[0]; first; first = tokens[next]) {
    const { rules, declarations } = around.at(-1)!;
    const { type, text, start } = first;
    if (type === RightCurlyBracket || type === Semicolon) {
      next++;
      if (type === RightCurlyBracket && around.length > 1) around.pop();
      continue;
    }
    const isNamed = type === Ident && tokens[next + 1]?.type === Colon;
    // The value of a custom property may have blocks.
    const isValue = (isNamed && text.startsWith('--')) || around.length > deepest;
    const end = isValue
      ? passUntil(Semicolon, RightCurlyBracket)
      : passUntil(Semicolon, LeftCurlyBracket, RightCurlyBracket);
    if (end?.type === LeftCurlyBracket) {
      next++;
      const at = type === AtKeyword ? text.slice(1).toLowerCase() : undefined;
      const from = at === undefined ? start : first.end;
      const block = emptyBlock();
      rules.push({ at, prelude: css.slice(from, end.start), start: from, ...block });
      around.push(block);
    } else if (isNamed) declarations.push({ name: cssName(text), start, end: first.end });
  }
  return sheet;
}

/** The selectors of a list, with the offsets of the sheet and names without escapes; none if one of them is not valid. */
export function selectorsIn(list: string, start: number): readonly Selector[] {
  try {
    const parsed = parse(list, { context: 'selectorList', positions: true, offset: start });
    if (parsed.type !== 'SelectorList') return [];
    walk(parsed, node => {
      if (node.type === 'TypeSelector' || node.type === 'Identifier') node.name = cssName(node.name);
    });
    return [...parsed.children].filter((selector): selector is Selector => selector.type === 'Selector');
  } catch {
    // Browsers drop the rule (CSS Selectors 4).
    return [];
  }
}

/** The lists of selectors in the prelude of `@scope`: where it begins, and where it ends (CSS Cascade 6). */
export function scopeSelectors({ prelude, start }: CssRule): (readonly Selector[])[] {
  const [root = [], limit = []] = parenthesized(prelude).map(([from, to]) =>
    selectorsIn(prelude.slice(from, to), start + from),
  );
  return /^\s*to\b/i.test(prelude) ? [[], root] : [root, limit];
}

/** The outermost texts in parentheses, as offsets. */
function parenthesized(text: string): [from: number, to: number][] {
  const found: [number, number][] = [];
  let depth = 0;
  for (const { text: sign, start, end } of cssTokens(text)) {
    if (sign.endsWith('(') && depth++ === 0) found.push([end, text.length]);
    if (sign === ')' && --depth === 0) found.at(-1)![1] = start;
  }
  return found;
}
