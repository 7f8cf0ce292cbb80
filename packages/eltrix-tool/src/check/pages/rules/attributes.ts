/** Checks attributes of elements: names, values, handlers, and global attributes. */
import { isGlobal, platformEvents } from '../../../project/html-names.ts';
import { kinds } from '../../../project/kinds/index.ts';
import { nearest } from '../../../project/nearest.ts';
import { instead, type PageText } from '../page-text.ts';
import type { Element } from '../parsed-page.ts';
import type { KnownAttribute, KnownElement } from '../vocabulary.ts';

/** Replaces unknown text: the placeholders of markup in a source. Values and names that contain it are not checked. */
export const placeholder = '\uE000';

/** Attributes of form-associated elements. */
const formAttributes = new Set(['name', 'form', 'disabled', 'readonly', 'required']);

/** States and properties of WAI-ARIA 1.2 (§6), and newer ones in engines. */
const ariaAttributes =
  'activedescendant atomic autocomplete braillelabel brailleroledescription busy checked colcount colindex colindextext colspan controls current describedby description details disabled dropeffect errormessage expanded flowto grabbed haspopup hidden invalid keyshortcuts label labelledby level live modal multiline multiselectable orientation owns placeholder posinset pressed readonly relevant required roledescription rowcount rowindex rowindextext rowspan selected setsize sort valuemax valuemin valuenow valuetext'
    .split(' ')
    .map(name => `aria-${name}`);
const knownAria = new Set(ariaAttributes);

export function checkAttributes(page: PageText, element: Element, known: KnownElement): void {
  for (const { name, value } of element.attrs) {
    const declared = known.attributes.get(name);
    if (declared) checkValue(page, element, declared, value);
    else if (/^on[a-z]/.test(name)) checkHandler(page, element, known, name);
    else if (!isGlobal(name) && /^[a-z]/.test(name) && !name.startsWith('xml')) checkName(page, element, known, name);
  }
}

function checkName(page: PageText, element: Element, known: KnownElement, name: string): void {
  if ((known.form && formAttributes.has(name)) || known.extends !== undefined) return;
  const names = [...known.attributes.keys()];
  const near = nearest(name, names) ?? names.find(other => other.replaceAll('-', '') === name.replaceAll('-', ''));
  // Other libraries use attributes with a special character or prefix.
  if (near === undefined && !/^[a-z\d]+$/.test(name)) return;
  const { start } = page.attribute(element, name);
  const have = names.length > 0 ? `It has ${names.join(', ')}.` : 'It has none.';
  page.report(
    'attribute-unknown',
    `<${known.tag}> has no attribute "${name}".${near ? ` Did you mean "${near}"?` : ` ${have}`}`,
    start,
    near && !element.attrs.some(other => other.name === near)
      ? [{ start, end: start + name.length, text: near }]
      : undefined,
  );
}

function checkValue(page: PageText, element: Element, declared: KnownAttribute, value: string): void {
  const at = page.attribute(element, declared.name);
  if (declared.deprecated !== undefined)
    page.report(
      'deprecated-use',
      `<${element.tagName}>, attribute "${declared.name}": ${instead(declared.deprecated)}`,
      at.start,
    );
  if (value.includes(placeholder)) return;
  const problem = kinds[declared.kind].problem?.(declared, value);
  if (!problem) return;
  const { code, message, offset, instead: text } = problem;
  const place = offset === undefined ? at.start : page.inValue(element, declared.name, offset);
  page.report(
    code,
    `<${element.tagName}>: ${message}`,
    place,
    text === undefined ? undefined : [page.valueEdit(at, text)],
  );
}

function checkHandler(page: PageText, element: Element, { tag, events }: KnownElement, name: string): void {
  const type = name.slice(2);
  const { start } = page.attribute(element, name);
  const deprecated = events.get(type)?.deprecated;
  if (deprecated !== undefined)
    page.report('deprecated-use', `<${tag}>, event "${type}": ${instead(deprecated)}`, start);
  if (platformEvents.has(type)) return;
  const near = nearest(type, events.keys());
  if (!page.isSource) {
    // HTML §8.1.8: only events of the platform have event handler attributes.
    const meant = events.has(type) ? type : near;
    if (meant !== undefined || page.all.events.has(type))
      page.report(
        'handler-dead',
        `No browser runs ${name}: HTML has such attributes for its own events only. Listen in a script: document.querySelector('${tag}').addEventListener('${meant ?? type}', event => { … }).`,
        start,
      );
    return;
  }
  // Events of nested elements bubble, so elements with such content are not checked.
  if (events.has(type) || page.all.events.has(type)) return;
  const sends = events.size > 0 ? ` It sends ${[...events.keys()].join(', ')}.` : ' It declares no events.';
  page.report(
    'event-unknown',
    `<${tag}> sends no event "${type}".${near ? ` Did you mean "${near}"?` : sends}`,
    start,
    near ? [{ start: start + 2, end: start + name.length, text: near }] : undefined,
  );
}

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

export function checkAria(page: PageText, element: Element): void {
  for (const { name } of element.attrs) {
    if (!name.startsWith('aria-') || knownAria.has(name)) continue;
    const near = nearest(name, ariaAttributes);
    const { start } = page.attribute(element, name);
    page.report(
      'attribute-unknown',
      `There is no attribute "${name}".${near ? ` Did you mean "${near}"?` : ' WAI-ARIA does not have it.'}`,
      start,
      near && !element.attrs.some(other => other.name === near)
        ? [{ start, end: start + name.length, text: near }]
        : undefined,
    );
  }
}
