/** Configuration in the page's HTML: JSON among an element's children, or data attributes around the element. */
import { contractKey } from '../element/contract-key.ts';
import type { Contract } from '../element/plan.ts';
import { report } from '../signals/report.ts';

/** A key without separators: `api-url`, `apiUrl` and `api_url` are the same. */
const plain = (key: string) => key.replace(/[-_]/g, '').toLowerCase();

/**
 * Sets an element's declared properties from the page. It reads `<script type="application/json">` among the element's
 * children, else `data-…` attributes of the element and its ancestors, nearest first. Attributes of the element itself
 * override both. Invalid JSON, and keys that are not declared properties, are reported; the other keys are set.
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
      // An invalid choice gives the default.
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
      // Ancestors may have data attributes for other elements.
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

/** Whether a value has the type of another one, if that is a primitive. */
function fits(value: unknown, before: unknown): boolean {
  const type = typeof before;
  if (type === 'number') return typeof value === 'number';
  return type !== 'boolean' || typeof value === 'boolean';
}

/** Converts a data attribute: to the property's type if that is text, number or flag, else as JSON. */
function meant(text: string, before: unknown): unknown {
  if (typeof before === 'string') return text;
  // Like the attribute of a flag, a present attribute means true. Content systems write "false" for false.
  if (typeof before === 'boolean') return text === '' || text === 'true' ? true : text === 'false' ? false : text;
  if (!/^(?:[[{]|true$|false$|null$|-?\d+(?:\.\d+)?$)/.test(text)) return text;
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
