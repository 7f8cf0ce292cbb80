/** The state of the page in its URL: `#/hive-card/a-busy-hive?set.mood=busy&width=400`. */
import type { Changes, Circumstances } from '../model.ts';

export interface Route {
  /** Empty: the overview. */
  readonly tag: string;
  /** The slug of the selected specimen; empty for the first one. */
  readonly specimen: string;
  readonly changes: Changes;
  readonly circumstances: Circumstances;
}

export const noChanges: Changes = { attributes: {}, properties: {}, slots: {}, cssProperties: {}, states: {} };

/** Marks a default: a value that no other state has. */
export const freshChanges = (): Changes => ({ ...noChanges });
export const freshCircumstances = (): Circumstances => ({ ...usual });

export const usual: Circumstances = { width: 0, scheme: 'system', rtl: false, calm: false, forced: false, text: 100 };

/** The prefix of names changed by controls. */
const groups: Readonly<Record<keyof Changes, string>> = {
  attributes: 'set.',
  properties: 'give.',
  slots: 'fill.',
  cssProperties: 'style.',
  states: 'state.',
};

/** A removed attribute. */
const without = 'without';

export function parseAddress(hash: string): Route {
  const [path = '', search = ''] = hash.replace(/^#\/?/, '').split('?');
  const [tag = '', specimen = ''] = path.split('/').map(decodeURIComponent);
  const query = new URLSearchParams(search);
  const changes = structuredClone(noChanges) as Record<keyof Changes, Record<string, unknown>>;
  for (const [key, value] of query) {
    if (key === without) changes.attributes[value] = null;
    for (const [group, before] of Object.entries(groups) as [keyof Changes, string][])
      if (key.startsWith(before)) changes[group][key.slice(before.length)] = group === 'states' ? value !== '0' : value;
  }
  const scheme = query.get('scheme');
  const circumstances: Circumstances = {
    width: Math.max(0, Math.min(4000, Number.parseInt(query.get('width') ?? '0', 10) || 0)),
    scheme: scheme === 'light' || scheme === 'dark' ? scheme : 'system',
    rtl: query.has('rtl'),
    calm: query.has('calm'),
    forced: query.has('forced'),
    text: query.get('text') === '200' ? 200 : 100,
  };
  return { tag, specimen, changes: changes as unknown as Changes, circumstances };
}

export function printAddress({ tag, specimen, changes, circumstances }: Route): string {
  const query = new URLSearchParams();
  for (const [group, before] of Object.entries(groups) as [keyof Changes, string][]) {
    for (const [name, value] of Object.entries(changes[group])) {
      if (value === null) query.append(without, name);
      else query.set(before + name, typeof value === 'boolean' ? (value ? '1' : '0') : value);
    }
  }
  for (const [name, value] of Object.entries(circumstances)) {
    if (value === usual[name as keyof Circumstances]) continue;
    query.set(name, value === true ? '' : String(value));
  }
  const search = query.toString().replace(/=(?=&|$)/g, '');
  const path = [tag, specimen].filter(Boolean).map(encodeURIComponent).join('/');
  return `#/${path}${search ? `?${search}` : ''}`;
}
