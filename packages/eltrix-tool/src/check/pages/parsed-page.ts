/** Parses a page by HTML §13.2, and finds the places where the parser deviates from the tags. */
import { type DefaultTreeAdapterMap, type DefaultTreeAdapterTypes, html, Parser, type Token } from 'parse5';

export type Node = DefaultTreeAdapterTypes.ChildNode;
export type Element = DefaultTreeAdapterTypes.Element;
export type Parent = { readonly childNodes: Node[] };

/** Facts that the tree does not contain. */
export interface Oddity {
  readonly kind: 'in-table' | 'in-select' | 'ends-paragraph' | 'end-tag' | 'attribute-twice';
  /** The offset of the tag, or of the second attribute. */
  readonly offset: number;
  /** The tag's name; undefined for an attribute. */
  readonly tag: string;
  /** The open elements, outermost first. */
  readonly open: readonly Element[];
}

export interface ParsedPage {
  readonly root: Parent;
  readonly oddities: readonly Oddity[];
}

const { TAG_ID } = html;
const tables = new Set([TAG_ID.TABLE, TAG_ID.TBODY, TAG_ID.THEAD, TAG_ID.TFOOT, TAG_ID.TR]);
const selects = new Set([TAG_ID.SELECT, TAG_ID.OPTGROUP, TAG_ID.OPTION]);

/** Start tags that close a paragraph (HTML §13.2.6.4.7). */
const endsParagraph = new Set(
  'ADDRESS ARTICLE ASIDE BLOCKQUOTE CENTER DD DETAILS DIALOG DIR DIV DL DT FIELDSET FIGCAPTION FIGURE FOOTER FORM H1 H2 H3 H4 H5 H6 HEADER HGROUP HR LI LISTING MAIN MENU NAV OL P PLAINTEXT PRE SECTION SUMMARY TABLE UL XMP'
    .split(' ')
    .map(name => TAG_ID[name as keyof typeof TAG_ID]),
);

class Noticing extends Parser<DefaultTreeAdapterMap> {
  readonly oddities: Oddity[] = [];

  #open(): Element[] {
    return this.openElements.items.slice(0, this.openElements.stackTop + 1) as Element[];
  }

  #notice(kind: Oddity['kind'], token: Token.TagToken, open = this.#open()): void {
    this.oddities.push({ kind, offset: token.location?.startOffset ?? 0, tag: token.tagName, open });
  }

  override onStartTag(token: Token.TagToken): void {
    const isCustom = token.tagName.includes('-');
    const { currentTagId } = this.openElements;
    if (isCustom && tables.has(currentTagId!)) this.#notice('in-table', token);
    if (isCustom && selects.has(currentTagId!) && this.#open().some(({ tagName }) => tagName === 'select'))
      this.#notice('in-select', token);
    const paragraph = endsParagraph.has(token.tagID) ? this.#paragraphWithCustom() : undefined;
    const open = paragraph && this.#open();
    super.onStartTag(token);
    if (open && !this.#open().includes(paragraph)) this.#notice('ends-paragraph', token, open);
  }

  /** The innermost paragraph, if a custom element is open in it. */
  #paragraphWithCustom(): Element | undefined {
    const { items, stackTop } = this.openElements;
    let hasCustom = false;
    for (let at = stackTop; at >= 0; at--) {
      const element = items[at] as Element;
      if (element.tagName === 'p') return hasCustom ? element : undefined;
      hasCustom ||= element.tagName.includes('-');
    }
    return undefined;
  }

  override onEndTag(token: Token.TagToken): void {
    const { tagName } = token;
    if (tagName.includes('-') && !this.#open().some(element => element.tagName === tagName))
      this.#notice('end-tag', token);
    super.onEndTag(token);
  }
}

/** @param isPage true for a whole page, false for the content of a body. */
export function parsePage(text: string, isPage: boolean): ParsedPage {
  const twice: Oddity[] = [];
  const options = {
    sourceCodeLocationInfo: true,
    onParseError({ code, startOffset }: { code: string; startOffset: number }) {
      if (code === 'duplicate-attribute')
        twice.push({ kind: 'attribute-twice', offset: startOffset, tag: '', open: [] });
    },
  };
  let root: Parent;
  let parser: Noticing;
  if (isPage) {
    parser = new Noticing(options);
    parser.tokenizer.write(text, true);
    root = parser.document;
  } else {
    parser = Noticing.getFragmentParser(null, options) as Noticing;
    parser.tokenizer.write(text, true);
    root = parser.getFragment();
  }
  return { root, oddities: [...parser.oddities, ...twice] };
}
