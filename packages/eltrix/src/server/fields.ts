/** Properties of form fields and other built-in elements, as attributes or text with the same effect. */

import { decodeReferences } from './character-references.ts';
import { escapeAttribute } from './escape.ts';
import { reflected } from './reflected.ts';
import { readTags } from './tokens.ts';

export interface FieldRecord {
  /** The value is null where the attribute is removed. */
  readonly attributes: readonly (readonly [name: string, value: string | null])[];
  /** Its text content. */
  readonly text: string | undefined;
  /** For `<select>`: the selected values. */
  readonly chosen: ReadonlySet<string> | undefined;
}

/** The output for a record of properties, or for `sync()`, on a built-in element. */
export function fieldOf(
  tag: string,
  attributes: ReadonlyMap<string, string>,
  properties: Readonly<Record<string, unknown>>,
): FieldRecord {
  const shown: (readonly [string, string | null])[] = [];
  let text: string | undefined;
  let chosen: Set<string> | undefined;
  const type = (attributes.get('type') ?? '').toLowerCase();
  for (const [key, value] of Object.entries(properties)) {
    if (typeof value === 'function') continue;
    if (value === undefined && /^(?:value|textContent|innerText)$/.test(key)) continue;
    if (key === 'textContent' || key === 'innerText') text = printed(value);
    else if (key === 'value' && (tag === 'textarea' || tag === 'output')) text = printed(value);
    else if (key === 'value' && tag === 'select')
      chosen = new Set(Array.isArray(value) ? value.map(printed) : [printed(value)]);
    else if (key === 'value' && type === 'file') continue;
    else {
      const written = reflected(key, key === 'value' && tag === 'input' ? printed(value) : value);
      if (written) shown.push(written);
    }
  }
  return { attributes: shown, text, chosen };
}

const printed = (value: unknown) => (value === null || value === undefined ? '' : String(value));

/** The property that `view/sync.ts` sets. */
export function synced(
  tag: string,
  attributes: ReadonlyMap<string, string>,
  value: unknown,
): Readonly<Record<string, unknown>> {
  const type = attributes.get('type')?.toLowerCase();
  if (tag === 'input' && type === 'checkbox')
    return { checked: Array.isArray(value) ? value.includes(attributes.get('value') ?? 'on') : Boolean(value) };
  if (tag === 'input' && type === 'radio') return { checked: printed(value) === (attributes.get('value') ?? 'on') };
  if (tag.includes('-')) return { value };
  if (/^(?:input|textarea|select|output)$/.test(tag)) return { value: Array.isArray(value) ? value : printed(value) };
  return { textContent: printed(value) };
}

/** Adds `selected` to the options with a selected value, and removes it from others. */
export function selectOptions(html: string, chosen: ReadonlySet<string>): string {
  let out = '';
  let at = 0;
  readTags(html, tag => {
    if (tag.closing || tag.name !== 'option') return;
    const given = tag.attributes.find(({ name }) => name === 'value');
    // Without the attribute the text is the value (HTML §4.10.10).
    const next = html.indexOf('<', tag.end);
    const text = given
      ? decodeReferences(given.value, true)
      : decodeReferences(plainText(html.slice(tag.end, optionEnd(html, next < 0 ? html.length : next))), false);
    out += html.slice(at, tag.start);
    const others = tag.attributes
      .filter(({ name }) => name !== 'selected')
      .map(({ name, value }) => ` ${name}="${escapeAttribute(decodeReferences(value, true))}"`);
    out += `<option${others.join('')}${chosen.has(text) ? ' selected=""' : ''}>`;
    at = tag.end;
  });
  return out + html.slice(at);
}

/** The marks of expressions may be inside an option's text. */
function optionEnd(html: string, from: number): number {
  let at = from;
  while (html.startsWith('<!--', at)) {
    const end = html.indexOf('-->', at);
    const next = html.indexOf('<', end < 0 ? html.length : end + 3);
    if (end < 0 || next < 0) return html.length;
    at = next;
  }
  return at;
}

const plainText = (html: string) =>
  html
    .replace(/<!--[^]*?-->/g, '')
    .replace(/[\t\n\f\r ]+/g, ' ')
    .trim();
