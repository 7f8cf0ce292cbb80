import type { Kind } from '../contract/index.ts';
import { isAttributeName } from '../contract/names.ts';
import { mistake } from './messages.ts';

/** Rejects an attribute that assigning its property could not set. */
export function refuseAttributeName(tag: string, name: string, attribute: string, { kind }: Kind<unknown>): void {
  if (isAttributeName(attribute)) return;
  const words = attribute.replace(/[^\w.-]+/g, '-').replace(/^-+|-+$/g, '');
  const better = words === '' ? 'a-name' : /^[a-z_]/i.test(words) && words !== 'xmlns' ? words : `x-${words}`;
  const key = /^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name);
  throw mistake(
    'TypeError',
    'attribute-name',
    tag,
    `<${tag}>: no script can set an attribute ${JSON.stringify(attribute)} in every engine. ` +
      `Give "${name}" another attribute name, for example ${key}: ${kind}({ attribute: '${better}' }).`,
  );
}
