/** Checks attributes of elements: names, values, handlers, and global attributes. */
import { isGlobal, platformEvents } from '../../../project/html-names.ts';
import { kinds } from '../../../project/kinds/index.ts';
import { nearest } from '../../../project/nearest.ts';
import { hasTemplateSyntax, isUnknownText } from '../../../project/unknown-text.ts';
import { instead, type PageText } from '../page-text.ts';
import type { Element } from '../parsed-page.ts';
import type { KnownAttribute, KnownElement } from '../vocabulary.ts';

/** Attributes of form-associated elements. */
const formAttributes = new Set(['name', 'form', 'disabled', 'readonly', 'required']);

/** Boolean attributes of the platform: of every element, and of fields. */
const flags = new Set(['autofocus', 'hidden', 'inert', 'itemscope']);
const formFlags = new Set(['disabled', 'readonly', 'required']);

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
    else if (/^on-?[a-z]/.test(name)) checkHandler(page, element, known, name);
    else if (name === 'exportparts') checkExported(page, element, known, value);
    else if (flags.has(name) || (formFlags.has(name) && (known.form || known.extends !== undefined)))
      checkFlag(page, element, name, value);
    else if (!isGlobal(name) && /^[a-z]/.test(name) && !name.startsWith('xml'))
      checkName(page, element, known, name, value);
  }
}

function checkName(page: PageText, element: Element, known: KnownElement, name: string, value: string): void {
  if ((known.form !== false && formAttributes.has(name)) || known.extends !== undefined) return;
  const names = [...known.attributes.keys()];
  const near = nearest(name, names) ?? names.find(other => other.replaceAll('-', '') === name.replaceAll('-', ''));
  // Other libraries use attributes with a special character or prefix.
  if (near === undefined && !/^[a-z\d]+$/.test(name)) return;
  const { start } = page.attribute(element, name);
  if (!page.isSource && hasTemplateSyntax(page.startTag(element))) return;
  const declared = near === undefined ? undefined : known.attributes.get(near);
  // It may be another attribute where the value is none of this one.
  const isMeant = declared && (isUnknownText(value) || !kinds[declared.kind].problem?.(declared, value));
  const have = names.length > 0 ? `It has ${names.join(', ')}.` : 'It has none.';
  page.report(
    'attribute-unknown',
    `<${known.tag}> has no attribute "${name}".${near ? ` Did you mean "${near}"?` : ` ${have}`}`,
    start,
    near && isMeant && !element.attrs.some(other => other.name === near)
      ? [{ start, end: start + name.length, text: near }]
      : undefined,
  );
}

function checkValue(page: PageText, element: Element, declared: KnownAttribute, value: string): void {
  if (declared.deprecated !== undefined)
    page.report(
      'deprecated-use',
      `<${element.tagName}>, attribute "${declared.name}": ${instead(declared.deprecated)}`,
      page.attribute(element, declared.name).start,
    );
  const problem = kinds[declared.kind].problem?.(declared, value);
  if (!problem || isUnknownText(value)) return;
  const { code, message, offset, instead: text } = problem;
  const at = page.attribute(element, declared.name);
  const place = offset === undefined ? at.start : page.inValue(element, declared.name, offset);
  page.report(
    code,
    `<${element.tagName}>: ${message}`,
    place,
    text === undefined ? undefined : [page.valueEdit(at, text)],
  );
}

/** `exportparts="inner, inner: outer"` (CSS Shadow Parts §5.1). */
function checkExported(page: PageText, element: Element, { tag, parts }: KnownElement, value: string): void {
  if (isUnknownText(value)) return;
  for (const { 0: entry, index } of value.matchAll(/[^\s,][^,]*/g)) {
    const name = entry.split(':')[0]!.trim();
    if (name === '' || name.startsWith('--') || parts.has(name)) continue;
    const near = nearest(name, parts);
    const offset = page.inValue(element, 'exportparts', index);
    page.report(
      'part-unknown',
      `<${tag}> has no part "${name}" to export.${near ? ` Did you mean "${near}"?` : parts.size > 0 ? ` It has ${[...parts].join(', ')}.` : ' It declares no parts.'}`,
      offset,
      near ? [{ start: offset, end: offset + name.length, text: near }] : undefined,
    );
  }
}

/** Only what looks like a "no": other values are as good as none. */
function checkFlag(page: PageText, element: Element, name: string, value: string): void {
  const problem = kinds.flag.problem?.({ name, values: [], aliases: [], range: undefined }, value);
  if (problem?.code !== 'flag-false') return;
  const at = page.attribute(element, name);
  page.report(problem.code, `<${element.tagName}>: ${problem.message}`, at.start, [page.valueEdit(at, null)]);
}

function checkHandler(page: PageText, element: Element, { tag, events }: KnownElement, name: string): void {
  const { start } = page.attribute(element, name);
  const type = name.slice(name[2] === '-' ? 3 : 2);
  // Other libraries have attributes of that form. In markup of a source, every one is reported.
  if (name[2] === '-' && (page.isSource || (!events.has(type) && nearest(type, events.keys()) === undefined))) return;
  const deprecated = events.get(type)?.deprecated;
  if (deprecated !== undefined)
    page.report('deprecated-use', `<${tag}>, event "${type}": ${instead(deprecated)}`, start);
  if (platformEvents.has(type)) return;
  const near = nearest(type, events.keys());
  const nearPlatform = type.length > 3 ? nearest(type, platformEvents) : undefined;
  if (!page.isSource) {
    // HTML §8.1.8: only events of the platform have event handler attributes.
    const meant = events.has(type) ? type : near;
    if (meant === undefined && nearPlatform !== undefined && !page.all.events.has(type))
      page.report(
        'attribute-unknown',
        `There is no attribute "${name}". Did you mean "on${nearPlatform}"?`,
        start,
        element.attrs.some(other => other.name === `on${nearPlatform}`)
          ? undefined
          : [{ start, end: start + name.length, text: `on${nearPlatform}` }],
      );
    else if (meant !== undefined || page.all.events.has(type))
      page.report(
        'handler-dead',
        `No browser runs ${name}: HTML has such attributes for its own events only. Listen in a script: document.querySelector('${tag}').addEventListener('${meant ?? type}', event => { … }).`,
        start,
      );
    return;
  }
  // Events of nested elements bubble, so elements with such content are not checked.
  if (events.has(type) || page.all.events.has(type)) return;
  const meant = near ?? nearPlatform;
  const sends = events.size > 0 ? ` It sends ${[...events.keys()].join(', ')}.` : ' It declares no events.';
  page.report(
    'event-unknown',
    `<${tag}> sends no event "${type}".${meant ? ` Did you mean "${meant}"?` : sends}`,
    start,
    meant ? [{ start: start + 2, end: start + name.length, text: meant }] : undefined,
  );
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
