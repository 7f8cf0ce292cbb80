/** What markup gives an element: the values of its attributes, and of the properties that expressions set. */
import { Fixed } from '../view/element-expression.ts';
import { danger } from '../view/safety.ts';
import { Sync } from '../view/sync.ts';
import { attributeText, attributeValue } from './attribute-values.ts';
import type { Owner, RenderContext } from './context.ts';
import { type FieldRecord, fieldOf, synced } from './fields.ts';
import type { ElementStep } from './steps.ts';

/** What a built-in element shows besides its attributes. */
export interface BuiltIn {
  readonly attributes: Map<string, string>;
  readonly field: FieldRecord;
}

/** The same for a built-in element: its properties are attributes, text, or chosen options. */
export function builtIn(
  context: RenderContext,
  step: ElementStep,
  values: readonly unknown[],
  owner: Owner,
  { attributes, properties } = given(context, step, values, owner),
): BuiltIn {
  const { tag } = step;
  const field = fieldOf(tag, attributes, properties);
  for (const [name, value] of field.attributes) {
    const reason = danger(tag, name, value);
    if (value === null) attributes.delete(name);
    else if (reason !== undefined) context.refused(owner, reason);
    else attributes.set(name, value);
  }
  return { attributes, field };
}

/** The attributes of an element in markup, and the properties that expressions set. */
export function given(
  context: RenderContext,
  { attributes: fixed, sites, tag }: ElementStep,
  values: readonly unknown[],
  owner: Owner,
) {
  const attributes = fixed.length === 0 ? new Map<string, string>() : new Map(fixed);
  const properties: Record<string, unknown> = {};
  for (const site of sites) {
    if (site.kind === 'style') attributes.set('style', site.text);
    else if (site.kind === 'element') record(context, values[site.expression], owner, properties, tag, attributes);
    else if (site.kind === 'attribute') {
      const { lower, property } = site;
      const value = attributeValue(context, site, values, owner);
      // As in the browser, an object on an attribute of a custom element sets its property.
      if (property !== undefined && typeof value === 'object' && value !== null) properties[property] = value;
      else {
        const text = attributeText(context, site, value, owner);
        if (text === undefined) attributes.delete(lower);
        else attributes.set(lower, text);
      }
    }
  }
  return { attributes, properties };
}

/** A record of properties, or an attachable value; of those only `sync()` has an output. */
function record(
  context: RenderContext,
  given: unknown,
  owner: Owner,
  properties: Record<string, unknown>,
  tag: string,
  attributes: ReadonlyMap<string, string>,
): void {
  if (typeof given !== 'object' || given === null) return;
  if (given instanceof Sync) {
    const value = context.value(() => given.source.get(), owner, ' in sync()');
    return void Object.assign(properties, synced(tag, attributes, value));
  }
  for (const [key, value] of Object.entries(given)) {
    if (/^on/.test(key) || value instanceof Fixed) continue;
    properties[key] = context.value(value, owner, ` in the property "${key}"`);
  }
}
