/** The tags of an HTML text with their positions, by the tokenization stage of HTML's parser (§13.2.5). */

export interface Attribute {
  /** In lower case. */
  readonly name: string;
  /** As written, with character references. */
  readonly value: string;
}

export interface Tag {
  /** In lower case. */
  readonly name: string;
  readonly closing: boolean;
  /** Whether it ends with `/>`. */
  readonly selfClosing: boolean;
  readonly attributes: readonly Attribute[];
  /** Offsets of its `<` and behind its `>`. */
  readonly start: number;
  readonly end: number;
}

/** Elements whose content is not markup. */
const rawText = /^(?:script|style|xmp|iframe|noembed|noframes|textarea|title|plaintext)$/;
/** Elements of SVG and MathML whose content is HTML (HTML §13.2.6, HTML integration points). */
const integrationPoint = /^(?:foreignobject|desc|title|annotation-xml)$/;

/** Calls `onTag` for each tag, with whether it is in SVG or MathML. Skips comments, CDATA and raw text. */
export function readTags(html: string, onTag: (tag: Tag, foreign: boolean) => void): void {
  /** Open elements that switch between HTML and foreign content. */
  const open: string[] = [];
  let at = 0;
  const isForeign = () => open.at(-1) === 'svg' || open.at(-1) === 'math';
  for (;;) {
    at = html.indexOf('<', at);
    if (at < 0) return;
    if (html.startsWith('<!--', at)) {
      at = commentEnd(html, at);
      continue;
    }
    if (isForeign() && html.startsWith('<![CDATA[', at)) {
      at = behind(html, ']]>', at + 9);
      continue;
    }
    const closing = html[at + 1] === '/';
    if (!isLetter(html.charCodeAt(at + (closing ? 2 : 1)))) {
      // A declaration, a bogus comment, or a plain "<".
      const next = html[at + 1];
      at = next === '!' || next === '?' || closing ? behind(html, '>', at + 2) : at + 1;
      continue;
    }
    const tag = readTag(html, at, closing);
    if (tag === undefined) return;
    at = tag.end;
    const foreign = isForeign();
    onTag(tag, foreign);
    if (closing) {
      const opened = open.lastIndexOf(tag.name);
      if (opened >= 0) open.length = opened;
      continue;
    }
    if (tag.name === 'svg' || tag.name === 'math' || (foreign && integrationPoint.test(tag.name))) {
      if (!tag.selfClosing) open.push(tag.name);
    } else if (!foreign && rawText.test(tag.name)) at = rawTextEnd(html, tag.name, at);
  }
}

function readTag(html: string, start: number, closing: boolean): Tag | undefined {
  let at = start + (closing ? 2 : 1);
  const nameEnd = nextOf(html, at, /[\t\n\f\r />]/g);
  if (nameEnd < 0) return undefined;
  const name = html.slice(at, nameEnd).toLowerCase();
  const attributes: Attribute[] = [];
  at = nameEnd;
  for (;;) {
    while (isGap(html.charCodeAt(at)) || html[at] === '/') at++;
    if (at >= html.length) return undefined;
    if (html[at] === '>') return { name, closing, selfClosing: html[at - 1] === '/', attributes, start, end: at + 1 };
    // "=" may begin a name (HTML §13.2.5.32).
    const end = nextOf(html, at + 1, /[\t\n\f\r />=]/g);
    if (end < 0) return undefined;
    const attribute = html.slice(at, end).toLowerCase();
    at = end;
    let ahead = at;
    while (isGap(html.charCodeAt(ahead))) ahead++;
    let value = '';
    if (html[ahead] === '=') {
      at = ahead + 1;
      while (isGap(html.charCodeAt(at))) at++;
      const quote = html[at];
      if (quote === '"' || quote === "'") {
        const close = html.indexOf(quote, at + 1);
        if (close < 0) return undefined;
        value = html.slice(at + 1, close);
        at = close + 1;
      } else {
        const close = nextOf(html, at, /[\t\n\f\r >]/g);
        if (close < 0) return undefined;
        value = html.slice(at, close);
        at = close;
      }
    }
    // Of two attributes with a name the first counts (HTML §13.2.5.33).
    if (!attributes.some(other => other.name === attribute)) attributes.push({ name: attribute, value });
  }
}

const isLetter = (code: number) => (code | 32) >= 97 && (code | 32) <= 122;
const isGap = (code: number) => code === 32 || code === 10 || code === 9 || code === 13 || code === 12;

function nextOf(html: string, from: number, pattern: RegExp): number {
  pattern.lastIndex = from;
  return pattern.exec(html)?.index ?? -1;
}

function behind(html: string, text: string, from: number): number {
  const found = html.indexOf(text, from);
  return found < 0 ? html.length : found + text.length;
}

/** HTML §13.2.5.43 to 51: `<!-->` and `--!>` end a comment as well. */
function commentEnd(html: string, start: number): number {
  const pattern = /<!--(?:-?>|[^]*?--!?>)/y;
  pattern.lastIndex = start;
  return pattern.test(html) ? pattern.lastIndex : html.length;
}

function rawTextEnd(html: string, name: string, from: number): number {
  if (name === 'plaintext') return html.length;
  const end = nextOf(html, from, new RegExp(`</${name}(?=[\\t\\n\\f\\r />])`, 'gi'));
  return end < 0 ? html.length : end;
}
