/** The values of attributes with expressions. */
import { asText } from '../view/as-text.ts';
import { cssName } from '../view/attribute.ts';
import { classText } from '../view/class-text.ts';
import { danger, steady } from '../view/safety.ts';
import { join } from '../view/text-expression.ts';
import type { Owner, RenderContext } from './context.ts';
import type { AttributeSite } from './steps.ts';

/** The value of an attribute: of its one expression, or the text of several. */
export function attributeValue(
  context: RenderContext,
  site: AttributeSite,
  values: readonly unknown[],
  owner: Owner,
): unknown {
  const { expression, count, statics, isAlone, lower } = site;
  if (isAlone) return context.value(values[expression], owner, site);
  const given: unknown[] = [];
  for (let i = 0; i < count; i++) given.push(context.value(values[expression + i], owner, site));
  return join(statics, given, lower === 'class' ? classText : asText);
}

/** The text of an attribute; undefined if it is not set. */
export function attributeText(
  context: RenderContext,
  { name, lower, tag, guarded }: AttributeSite,
  given: unknown,
  owner: Owner,
): string | undefined {
  let value = given;
  if (typeof value === 'object' && value !== null) {
    if (lower === 'class') value = classText(value);
    else if (lower === 'style') value = styleText(value as Record<string, unknown>);
  }
  if (guarded) {
    value = steady(tag, name, value);
    const reason = danger(tag, name, value);
    if (reason !== undefined) return void context.refused(owner, reason);
  }
  if (typeof value === 'string') return lower === 'style' && value === '' ? undefined : value;
  if (value === null || value === undefined || value === false) return undefined;
  return value === true ? '' : String(value);
}

/** A record of style properties as text. */
function styleText(record: Record<string, unknown>): string {
  return Object.entries(record)
    .filter(([, value]) => value !== null && value !== undefined && value !== false && value !== '')
    .map(([name, value]) => `${cssName(name)}: ${String(value)};`)
    .join(' ');
}
