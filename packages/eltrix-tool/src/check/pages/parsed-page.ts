/** Parses a page by HTML §13.2, and finds the places where the parser deviates from the tags. */
import { type DefaultTreeAdapterMap, type DefaultTreeAdapterTypes, html, Parser, type Token } from 'parse5';

export type Node = DefaultTreeAdapterTypes.ChildNode;
export type Element = DefaultTreeAdapterTypes.Element;
export type Parent = { readonly childNodes: Node[] };

/** Facts that the tree does not contain. */
export interface Oddity {
  readonly kind:
    | 'in-table'
    | 'in-select'
    | 'ends-paragraph'
    | 'end-tag'
    | 'end-tag-attributes'
    | 'space-in-tag'
    | 'unfinished-tag';
  /** The offset of the tag. */
  readonly offset: number;
  /** The tag's name; empty if there is none. */
  readonly tag: string;
  /** The open elements, outermost first. */
  readonly open: readonly Element[];
}

/** Parse errors inside start tags (HTML §13.2.2), by the offset of the character. */
export interface TagErrors {
  readonly duplicates: readonly number[];
  readonly quotes: readonly number[];
}

export interface ParsedPage {
  readonly root: Parent;
  readonly oddities: readonly Oddity[];
  readonly errors: TagErrors;
}

const { TAG_ID } = html;
const tables = new Set([TAG_ID.TABLE, TAG_ID.TBODY, TAG_ID.THEAD, TAG_ID.TFOOT, TAG_ID.TR]);
const selects = new Set([TAG_ID.SELECT, TAG_ID.OPTGROUP, TAG_ID.OPTION]);

const isCustom = ({ tagID, tagName }: Token.TagToken) => tagID === TAG_ID.UNKNOWN && tagName.includes('-');

/** Start tags that close a paragraph (HTML §13.2.6.4.7). */
const endsParagraph = new Set(
  'ADDRESS ARTICLE ASIDE BLOCKQUOTE CENTER DD DETAILS DIALOG DIR DIV DL DT FIELDSET FIGCAPTION FIGURE FOOTER FORM H1 H2 H3 H4 H5 H6 HEADER HGROUP HR LI LISTING MAIN MENU NAV OL P PLAINTEXT PRE SECTION SUMMARY TABLE UL XMP'
    .split(' ')
    .map(name => TAG_ID[name as keyof typeof TAG_ID]),
);

class Noticing extends Parser<DefaultTreeAdapterMap> {
  readonly oddities: Oddity[] = [];
  /** The offset after the last tag or comment. */
  end = 0;

  open(): Element[] {
    return this.openElements.items.slice(0, this.openElements.stackTop + 1) as Element[];
  }

  #notice(kind: Oddity['kind'], token: Token.TagToken, open = this.open()): void {
    this.oddities.push({ kind, offset: token.location?.startOffset ?? 0, tag: token.tagName, open });
  }

  override onComment(token: Token.CommentToken): void {
    this.end = token.location?.endOffset ?? this.end;
    super.onComment(token);
  }

  override onStartTag(token: Token.TagToken): void {
    this.end = token.location?.endOffset ?? this.end;
    if (isCustom(token)) {
      const { currentTagId } = this.openElements;
      if (tables.has(currentTagId!)) this.#notice('in-table', token);
      if (selects.has(currentTagId!) && this.open().some(({ tagName }) => tagName === 'select'))
        this.#notice('in-select', token);
    }
    const paragraph = endsParagraph.has(token.tagID) ? this.#paragraphWithCustom() : undefined;
    const open = paragraph && this.open();
    super.onStartTag(token);
    if (open && !this.open().includes(paragraph)) this.#notice('ends-paragraph', token, open);
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
    this.end = token.location?.endOffset ?? this.end;
    if (isCustom(token)) {
      if (token.attrs.length > 0) this.#notice('end-tag-attributes', token);
      if (!this.open().some(element => element.tagName === tagName)) this.#notice('end-tag', token);
    }
    super.onEndTag(token);
  }
}

/** @param isPage true for a whole page, false for the content of a body. */
export function parsePage(text: string, isPage: boolean): ParsedPage {
  const errors = { duplicates: [] as number[], quotes: [] as number[] };
  let parser: Noticing;
  const options = {
    sourceCodeLocationInfo: true,
    onParseError({ code, startOffset }: { code: string; startOffset: number }) {
      if (code === 'duplicate-attribute') errors.duplicates.push(startOffset);
      else if (code === 'unexpected-character-in-attribute-name') errors.quotes.push(startOffset);
      else if (code === 'invalid-first-character-of-tag-name') {
        const tag = /^\s+([a-z][^\s/>]*)/i.exec(text.slice(startOffset))?.[1]?.toLowerCase() ?? '';
        parser.oddities.push({ kind: 'space-in-tag', offset: startOffset, tag, open: parser.open() });
      } else if (code === 'eof-in-tag') {
        // Only character data can be between the last token and the tag.
        const [begin, tag] = /<\/?([a-z][^\s/>]*)/i.exec(text.slice(parser.end)) ?? [];
        if (begin === undefined || tag === undefined) return;
        const offset = text.indexOf(begin, parser.end);
        parser.oddities.push({ kind: 'unfinished-tag', offset, tag: tag.toLowerCase(), open: parser.open() });
      }
    },
  };
  parser = isPage ? new Noticing(options) : (Noticing.getFragmentParser(null, options) as Noticing);
  parser.tokenizer.write(text, true);
  return { root: isPage ? parser.document : parser.getFragment(), oddities: parser.oddities, errors };
}
