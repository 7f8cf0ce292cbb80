/** Checks start tags in which the parser finds other attributes than they look like. */
import { hasTemplateSyntax } from '../../../project/unknown-text.ts';
import type { PageText } from '../page-text.ts';
import type { Element } from '../parsed-page.ts';
import type { KnownElement } from '../vocabulary.ts';

/** A duplicate attribute is ignored (HTML §13.2.5.33). */
export function checkTwice(page: PageText, element: Element, offsets: readonly number[]): void {
  const at = element.sourceCodeLocation?.startTag;
  if (!at) return;
  for (const offset of offsets) {
    if (offset < at.startOffset || offset >= at.endOffset) continue;
    const before = page.text.slice(at.startOffset, offset);
    const name = /([^\s"'<>/=]+)$/.exec(before)?.[1]?.toLowerCase();
    if (name === undefined) continue;
    page.report(
      'attribute-twice',
      `<${element.tagName}> has "${name}" twice, and only the first counts. Take one away.`,
      offset - name.length,
    );
  }
}

/**
 * A quote in the name of an attribute (HTML §13.2.5.33): a quote before it is not closed, or not opened.
 * @returns whether it was reported.
 */
export function checkQuotes(
  page: PageText,
  element: Element,
  known: KnownElement | undefined,
  offsets: readonly number[],
): boolean {
  const at = element.sourceCodeLocation?.startTag;
  if (!at) return false;
  const offset = offsets.find(offset => at.startOffset < offset && offset < at.endOffset);
  if (offset === undefined) return false;
  const text = page.startTag(element);
  const swallowed = page.tagIn(text.slice(1));
  if ((!known && swallowed === undefined) || hasTemplateSyntax(text)) return false;
  const odd = /^[^\s=>]*/.exec(page.text.slice(offset))![0];
  // The value before it contains what the author wrote as tags.
  const open = element.attrs.findLast(
    ({ name, value }) => page.attribute(element, name).end <= offset && value.includes('<'),
  );
  const what = swallowed === undefined ? '' : `, and <${swallowed}> as text`;
  page.report(
    'tag-quotes',
    open
      ? `The quote of ${open.name} is closed too late: the parser takes what follows as its value${what}. Close it.`
      : `The quotes of <${element.tagName}> are not in pairs: the parser takes ${odd} as the name of an attribute. Look at the quote before it.`,
    open ? page.attribute(element, open.name).start : offset,
  );
  return true;
}
