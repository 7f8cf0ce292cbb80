/** Checks tags: unknown ones, and those that the parser treats differently than they look. */
import { attributeOf } from '../../../project/attribute-of.ts';
import { htmlElements } from '../../../project/html-names.ts';
import { nearest } from '../../../project/nearest.ts';
import { isUnknownText } from '../../../project/unknown-text.ts';
import { instead, type PageText } from '../page-text.ts';
import type { Element, Oddity } from '../parsed-page.ts';
import type { KnownElement } from '../vocabulary.ts';

/** A tag similar to an element's: it may belong to another package, so there is no automatic fix. */
export function checkTag(page: PageText, element: Element, defined: ReadonlySet<string>): void {
  const { tagName: tag, namespaceURI } = element;
  if (!namespaceURI.endsWith('xhtml') || defined.has(tag)) return;
  const near = nearest(tag, page.all.tags);
  // With more than two different letters it is another name.
  if (near === undefined || Math.abs(near.length - tag.length) > 2 || !isTypo(tag, near)) return;
  page.report(
    'tag-unknown',
    `There is no element <${tag}>, so the page shows nothing of it. Did you mean <${near}>?`,
    page.start(element),
  );
}

/** A tag that would be an element's with a hyphen. Names of custom elements have one (HTML §4.13.3). */
export function checkPlainTag(page: PageText, element: Element): void {
  const { tagName: tag, namespaceURI } = element;
  if (htmlElements.has(tag) || !namespaceURI.endsWith('xhtml')) return;
  const meant = page.all.joined.get(tag.replace(/[_.:]/g, ''));
  if (meant === undefined) return;
  page.report(
    'tag-unknown',
    `There is no element <${tag}>: the name of a custom element has a hyphen. Did you mean <${meant}>?`,
    page.start(element),
  );
}

/** Elements of other namespaces cannot be custom (HTML §4.13.3). */
export function checkForeign(page: PageText, element: Element): void {
  const { tagName: tag, namespaceURI } = element;
  if (namespaceURI.endsWith('xhtml') || !page.vocabulary.has(tag)) return;
  const [around, instead] = namespaceURI.endsWith('svg') ? ['svg', ', or into a <foreignObject>'] : ['math', ''];
  page.report(
    'tag-in-foreign',
    `<${tag}> inside <${around}> is no HTML element, so it stays empty. Put it outside${instead}.`,
    page.start(element),
  );
}

/** A template that is meant as a declarative shadow root (HTML §4.12.3). */
export function checkRoots(page: PageText, element: Element): void {
  for (const child of element.childNodes) {
    if (!('tagName' in child) || child.tagName !== 'template') continue;
    const mode = attributeOf(child, 'shadowrootmode');
    if (mode === undefined && attributeOf(child, 'shadowroot') === undefined) continue;
    if (mode !== undefined && (/^(?:open|closed)$/i.test(mode) || isUnknownText(mode))) continue;
    page.report(
      'root-mode',
      `This template stays a template${mode === undefined ? ': browsers do not know shadowroot' : ''}. Write shadowrootmode="open" or "closed".`,
      page.attribute(child, mode === undefined ? 'shadowroot' : 'shadowrootmode').start,
    );
  }
}

/** Whether one part of a tag, between hyphens, is a misspelling, and the other parts are the same. */
function isTypo(tag: string, near: string): boolean {
  const [a, b] = [tag.split('-'), near.split('-')];
  if (a.length !== b.length) return tag.replaceAll('-', '') === near.replaceAll('-', '');
  const differing = a.flatMap((part, at) => (part === b[at] ? [] : [[part, b[at]!] as const]));
  return differing.length === 1 && differing.every(([one, other]) => oneSlip(one, other));
}

/** One letter added, missing, replaced or swapped; in long words two. */
function oneSlip(a: string, b: string): boolean {
  return a.length > 2 && nearest(a, [b]) !== undefined && sharedLetters(a, b) >= Math.min(a.length, b.length) - 1;
}

function sharedLetters(a: string, b: string): number {
  const left = [...b];
  return [...a].filter(letter => {
    const at = left.indexOf(letter);
    if (at >= 0) left.splice(at, 1);
    return at >= 0;
  }).length;
}

export function checkUse(page: PageText, element: Element, { tag, deprecated }: KnownElement): void {
  if (deprecated !== undefined) page.report('deprecated-use', `<${tag}>: ${instead(deprecated)}`, page.start(element));
}

/** `is` only creates customized built-in elements, of the element that they extend (HTML §4.13.1.4). */
export function checkIs(page: PageText, element: Element): void {
  const is = attributeOf(element, 'is');
  if (is === undefined) {
    if (!element.tagName.includes('-')) return;
    const meant = page.vocabulary.get(element.tagName)?.extends;
    if (meant === undefined) return;
    page.report(
      'is-misused',
      `<${element.tagName}> extends <${meant}>, so its tag alone does nothing. Write <${meant} is="${element.tagName}">.`,
      page.start(element),
    );
    return;
  }
  const known = page.vocabulary.get(is);
  const { start, value, end, quote } = page.attribute(element, 'is');
  if (known?.extends === element.tagName) return;
  if (known) {
    const write = known.extends === undefined ? `<${is}>` : `<${known.extends} is="${is}">`;
    page.report('is-misused', `is="${is}" does nothing on <${element.tagName}>. Write ${write}.`, start);
    return;
  }
  const builtIns = page.all.tags.filter(tag => page.vocabulary.get(tag)!.extends === element.tagName);
  const near = nearest(is, builtIns);
  if (near !== undefined)
    page.report('is-misused', `There is no element "${is}" for is. Did you mean "${near}"?`, start, [
      { start: value, end: end - quote.length, text: near },
    ]);
}

/** What findings of other tags have said about the ends of elements. */
export interface Ends {
  /** Elements whose missing end tag is explained. */
  readonly explained: Set<Element>;
  /** Offsets of start tags for which the same holds. */
  readonly misplaced: ReadonlySet<number>;
  /** End tags of known elements that close nothing. */
  readonly stray: { readonly tag: string; readonly offset: number }[];
}

/** Custom elements always need an end tag. */
export function checkEnd(page: PageText, element: Element, { explained, misplaced, stray }: Ends): void {
  const at = element.sourceCodeLocation;
  if (!at?.startTag || at.endTag || explained.has(element) || !element.namespaceURI.endsWith('xhtml')) return;
  if (misplaced.has(at.startOffset)) return;
  const { tagName } = element;
  const { endOffset } = at.startTag;
  const unfinished = tagName.indexOf('<');
  if (unfinished > 0) {
    const tag = tagName.slice(0, unfinished);
    if (page.vocabulary.has(tag))
      page.report('tag-unclosed', `The tag <${tag} does not end before the next one. Add the >.`, page.start(element));
    return;
  }
  if (page.text[endOffset - 2] === '/') {
    page.report(
      'tag-self-closed',
      `The slash of <${tagName}/> does nothing, so it takes in what follows. Write <${tagName}></${tagName}>.`,
      page.start(element),
      [{ start: endOffset - 2, end: endOffset, text: `></${tagName}>` }],
    );
    return;
  }
  const late = stray.findIndex(({ tag, offset }) => tag === tagName && offset >= endOffset);
  if (late >= 0) {
    stray.splice(late, 1);
    page.report(
      'tag-unclosed',
      `<${tagName}> ends before its end tag: a tag in it closes an element around it, as <a> inside <a> or <button> inside <button> does. Take that tag out.`,
      page.start(element),
    );
    return;
  }
  page.report(
    'tag-unclosed',
    `<${tagName}> is not closed, so it contains everything up to the end of its parent. Add </${tagName}>.`,
    page.start(element),
  );
}

/** End tags that belong to no element in sight. */
export function checkStray(page: PageText, { stray }: Ends): void {
  for (const { tag, offset } of stray)
    page.report(
      'end-tag-stray',
      `No <${tag}> is open here, so this end tag does nothing. Remove it, or look for its start tag, which is missing or closed already.`,
      offset,
    );
}

export function checkOddities(page: PageText, oddities: readonly Oddity[]): Ends {
  const explained = new Set<Element>();
  const misplaced = new Set<string>();
  const places = new Set<number>();
  const stray: Ends['stray'] = [];
  for (const { kind, offset, tag, open } of oddities) {
    const parent = open.at(-1)?.tagName;
    if (kind === 'in-table') {
      misplaced.add(tag);
      places.add(offset);
      page.report(
        'tag-in-table',
        `<${tag}> cannot be a child of <${parent}>: the parser moves it before the table. Put it into a <td>, or into <caption>.`,
        offset,
      );
    } else if (kind === 'in-select') {
      misplaced.add(tag);
      places.add(offset);
      page.report('tag-in-select', `<${tag}> cannot be inside <select>: some engines drop it.`, offset);
    } else if (kind === 'ends-paragraph') {
      const ended = open.slice(open.findLastIndex(({ tagName }) => tagName === 'p') + 1);
      for (const element of ended) {
        explained.add(element);
        misplaced.add(element.tagName);
      }
      const custom = ended.find(({ tagName }) => tagName.includes('-'))!;
      page.report(
        'tag-in-paragraph',
        `<${tag}> ends the <p> around it, and <${custom.tagName}> with that. Put <${custom.tagName}> outside of the <p>${tag === 'div' || tag === 'p' ? `, or use <span> in place of <${tag}>` : ''}.`,
        offset,
      );
    } else if (kind === 'unfinished-tag') {
      const lost = page.tagIn(page.text.slice(offset));
      if (lost === undefined) continue;
      for (const element of open) explained.add(element);
      page.report(
        'tag-quotes',
        `This tag does not end before the end of the page, so <${lost}> is not shown. Add the quote or the > that is missing.`,
        offset,
      );
    } else if (kind === 'space-in-tag') {
      if (!page.vocabulary.has(tag)) continue;
      const isEnd = page.text[offset - 1] === '/';
      const spaces = /^\s+/.exec(page.text.slice(offset))![0].length;
      const closed = open.findLast(({ tagName }) => tagName === tag);
      if (isEnd && closed) explained.add(closed);
      misplaced.add(tag);
      page.report(
        'tag-space',
        isEnd
          ? `"</ ${tag}>" is a comment and closes nothing. ${closed ? `Write </${tag}>` : `Remove it: no <${tag}> is open here`}.`
          : `"< ${tag}" is text and no tag. Write <${tag}.`,
        offset - (isEnd ? 2 : 1),
        isEnd && !closed ? undefined : [{ start: offset, end: offset + spaces, text: '' }],
      );
    } else if (kind === 'end-tag-attributes') {
      if (page.vocabulary.has(tag))
        page.report('end-tag-attributes', `An end tag has no attributes. Write them into <${tag} …>.`, offset);
    } else if (kind === 'end-tag' && !misplaced.has(tag)) {
      const meant = open.findLast(({ tagName }) => /^[^<]*-[^<]*$/.test(tagName));
      if (!meant || nearest(tag, [meant.tagName]) === undefined) {
        if (page.vocabulary.has(tag)) stray.push({ tag, offset });
        continue;
      }
      explained.add(meant);
      page.report(
        'end-tag-unknown',
        `No <${tag}> is open here, so this end tag does nothing and <${meant.tagName}> stays open. Write </${meant.tagName}>.`,
        offset,
        [{ start: offset + 2, end: offset + 2 + tag.length, text: meant.tagName }],
      );
    }
  }
  return { explained, misplaced: places, stray };
}
