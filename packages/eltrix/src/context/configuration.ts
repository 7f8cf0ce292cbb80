/** Configuration that a page or a content system writes: JSON among an element's children, or data attributes around it. */
import { contractKey } from '../element/contract-key.ts';
import type { Contract } from '../element/plan.ts';
import { report } from '../signals/report.ts';

/** A key without the signs by which people join words: `api-url`, `apiUrl` and `api_url` are one. */
const plain = (key: string) => key.replace(/[-_]/g, '').toLowerCase();

/**
 * Reads an element's configuration into its declared properties: from `<script type="application/json">` among its
 * children, else from `data-…` attributes of the element and of what stands around it, the nearest first. What an
 * attribute of the element itself says stays.
 *
 * JSON that does not parse, and keys that are no declared property, are reported; the rest is read.
 *
 * @returns the properties that were set.
 * @example connected() { readConfiguration(this); }
 */
export function readConfiguration(host: HTMLElement): string[] {
  const { members } = (host.constructor as unknown as { [contractKey]: Contract })[contractKey];
  const set: string[] = [];
  const assign = (name: string, value: unknown) => {
    const member = members.find(member => member.name === name)!;
    const properties = host as unknown as Record<string, unknown>;
    if (set.includes(name) || (member.attribute !== undefined && host.hasAttribute(member.attribute))) return;
    try {
      const before = properties[name];
      if (!fits(value, before)) return refuse(name, value);
      properties[name] = value;
      // A choice that is none gives the default.
      if (typeof before === 'string' && properties[name] !== String(value)) {
        properties[name] = before;
        return refuse(name, value);
      }
      set.push(name);
    } catch (error) {
      report(error);
    }
  };
  const refuse = (name: string, value: unknown) =>
    report(
      new Error(
        __DEV__
          ? `(configuration-value): <${host.localName}>: ${JSON.stringify(value)} is no value for "${name}". The default stays.`
          : 'configuration-value',
      ),
    );
  const find = (key: string) => members.find(({ name }) => plain(name) === plain(key))?.name;
  for (const script of host.querySelectorAll(':scope > script[type="application/json"]')) {
    for (const [key, value] of Object.entries(parsed(host, script.textContent))) {
      const name = find(key);
      if (name !== undefined) assign(name, value);
      else if (__DEV__) {
        const names = members.map(({ name, attribute }) => [name, attribute].filter(Boolean).join(' or ')).join(', ');
        report(
          new Error(
            `(configuration-key): <${host.localName}>: "${key}" in its JSON is no declared property; it was looked for as "${plain(key)}". ` +
              `There are ${names || 'none'}; words may be joined as apiUrl, api-url or api_url. It was ignored.`,
          ),
        );
      } else report(new Error('configuration-key'));
    }
  }
  for (let node: Element | null = host; node; node = node.parentElement)
    for (const [key, text] of Object.entries((node as HTMLElement).dataset ?? {})) {
      // What stands around an element may have data for others.
      const name = find(key);
      if (name !== undefined) assign(name, meant(text!, (host as unknown as Record<string, unknown>)[name]));
    }
  return set;
}

function parsed(host: Element, text: string): object {
  try {
    const value = JSON.parse(text) as unknown;
    if (typeof value === 'object' && value !== null && !Array.isArray(value)) return value;
    throw new SyntaxError('it is no object');
  } catch (error) {
    report(
      new SyntaxError(
        __DEV__
          ? `(configuration-json): <${host.localName}>: the JSON among its children cannot be read: ${(error as Error).message}. Write { "apiUrl": "…" }. It was ignored.`
          : 'configuration-json',
      ),
    );
    return {};
  }
}

/** Whether a value can stand in the place of another one: of the same type, where that is a plain one. */
function fits(value: unknown, before: unknown): boolean {
  const type = typeof before;
  if (type === 'number') return typeof value === 'number';
  return type !== 'boolean' || typeof value === 'boolean';
}

/** The value of a data attribute: as text, number or flag if the property is one, else as JSON means it. */
function meant(text: string, before: unknown): unknown {
  if (typeof before === 'string') return text;
  // As the attribute of a flag: being there means true; content systems write "false".
  if (typeof before === 'boolean') return text === '' || text === 'true' ? true : text === 'false' ? false : text;
  if (!/^(?:[[{]|true$|false$|null$|-?\d+(?:\.\d+)?$)/.test(text)) return text;
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
