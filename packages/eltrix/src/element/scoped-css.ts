import { givenMark } from '../view/sent-marks.ts';

/** Comments, strings, addresses, escapes, braces and `:host`. */
const pieces =
  /\/\*[^]*?(?:\*\/|$)|"(?:\\[^]|[^"\\\n])*"?|'(?:\\[^]|[^'\\\n])*'?|url\([^"')]*\)|\\[^]|[{}]|:host(?![\w-])\(?/g;

/** @param tag may have a dot. */
export const scopeSelector = (tag: string, extended: string | undefined): string =>
  extended === undefined ? tag.replaceAll('.', '\\.') : `${extended}[is="${tag}"]`;

/**
 * The sheet of an element without a shadow root, limited to the element and without what the page puts into its slots
 * (CSS Cascading 6 §2.5). `:host` means the element.
 */
export function scopedCss(css: string, selector: string): string {
  let depth = 0;
  const inside = css.replace(pieces, piece => {
    if (piece === '{') depth++;
    else if (piece === '}') {
      // One too many would end the scope; as in a sheet, it spoils the next rule instead.
      if (depth === 0) return '!';
      depth--;
    }
    return piece === ':host' ? ':scope' : piece === ':host(' ? ':scope:is(' : piece;
  });
  return `@scope (${selector}) to (slot[${givenMark}] > *) {\n${inside}\n}`;
}
