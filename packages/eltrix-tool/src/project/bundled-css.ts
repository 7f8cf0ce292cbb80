/** The CSS of a file, as bundled. */
import { tokenTypes } from 'css-tree/tokenizer';
import { string, url } from 'css-tree/utils';
import { type CssToken, closing, cssTokens } from './css-tokens.ts';
import { minifyCss } from './minify-css.ts';

/** CSS in parts, between which the URLs of its files are inserted. */
export interface BundledCss {
  readonly pieces: readonly (string | { readonly address: string })[];
  readonly problem?: string;
}

/** The target of a URL, independent of where the sheet is used. */
const elsewhere = /^(?:[a-z][a-z\d+.-]*:|[/?#]|$)/i;

/** Bundles the CSS of a file, and separates the URLs of its files. */
export function bundledCss(css: string, minify: boolean): BundledCss {
  // A constructed sheet would take a byte order mark for a letter.
  const written = css.replace(/^\uFEFF/, '');
  const { css: text, problem } = minify ? minifyCss(written) : { css: written };
  const tokens = cssTokens(text);
  if (tokens.some(({ type, text }) => type === tokenTypes.AtKeyword && /^@import$/i.test(text)))
    return {
      pieces: [written],
      problem: '@import does nothing in a constructed sheet; list both sheets in styleSheets',
    };
  const pieces: (string | { address: string })[] = [];
  let from = 0;
  for (const { token, address } of addressesIn(tokens)) {
    if (elsewhere.test(address)) continue;
    const [, file = '', fragment = ''] = /^([^?#]*)[^#]*(.*)$/s.exec(address)!;
    const [open, close] = token.type === tokenTypes.Url ? ['url("', '")'] : ['"', '"'];
    pieces.push(text.slice(from, token.start) + open, { address: file });
    // Without the quotation mark that begins a string.
    pieces.push(string.encode(fragment).slice(1, -1) + close);
    from = token.end;
  }
  return { pieces: [...pieces, text.slice(from)], ...(problem ? { problem } : {}) };
}

/** The tokens with URLs of files: images, fonts and so on. */
function* addressesIn(tokens: readonly CssToken[]): Generator<{ token: CssToken; address: string }> {
  const open: CssToken[] = [];
  let statement = '';
  for (const token of tokens) {
    const { type, text } = token;
    if (type === tokenTypes.AtKeyword) statement = text.toLowerCase();
    if (type === tokenTypes.Semicolon || type === tokenTypes.LeftCurlyBracket) statement = '';
    // The URL of a namespace is its name.
    if (statement === '@namespace') continue;
    const around = open.at(-1);
    if (type === tokenTypes.Url) yield { token, address: url.decode(text) };
    else if (type === tokenTypes.String && /^(?:url|src|(?:-webkit-)?image-set)\($/i.test(around?.text ?? ''))
      yield { token, address: string.decode(text) };
    if (closing.has(type)) open.push(token);
    else if (around && type === closing.get(around.type)) open.pop();
  }
}
