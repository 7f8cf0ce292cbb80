/** Chooses the binding of an expression: the smallest one that can show all its possible values. */

import { showClass, showFor, showPlain, showPrefixed, showStyle } from '../../../eltrix/src/view/attribute.ts';
import { isGuarded } from '../../../eltrix/src/view/safety.ts';
import { bare, fieldsOf, type Node } from '../project/syntax.ts';
import { isFunction, isPlain, type Known } from './infer.ts';
import { decode, decodeAttribute, type PlacedSite } from './markup-html.ts';

/** The module being compiled, as far as this file needs it. */
export interface BinderModule {
  /** Imports an export of the runtime, and returns its local name. */
  use(name: string): string;
  /** The library's name of an imported identifier. */
  nameOf(node: Node): string | undefined;
  readonly options: { readonly rendered?: boolean };
}

/** The code of a site's binding. */
export function binderCode(
  { site, tag, isAmong }: PlacedSite,
  expressions: readonly Node[],
  known: Known,
  module: BinderModule,
): string {
  const use = (name: string) => module.use(name);
  const values = expressions.slice(site.expression, site.expression + site.count);
  const plain = values.every(value => isPlain(value, known));
  switch (site.kind) {
    case 'content':
      if (isAmong) return use('bindContent');
      return use(plain ? 'bindText' : isList(values[0]!, module) ? 'bindPlaced' : 'bindContent');
    case 'text': {
      const statics = site.statics.map(decode);
      const isAlone = plain && statics.length === 2 && !statics.some(Boolean);
      return isAlone ? use('bindText') : `${use('textBinder')}(${JSON.stringify(statics)})`;
    }
    case 'style':
      return `${use('bindStaticStyle')}(${JSON.stringify(decodeAttribute(site.text))})`;
    case 'listener':
      return `${use(isFunction(values[0]!, known) ? 'bindFunction' : 'bindListener')}(${JSON.stringify(site.type)})`;
    case 'element':
      return use(elementBinder(bare(values[0]!), tag, module));
    case 'attribute': {
      const { name, foreign, statics } = site;
      const texts = statics.map(decodeAttribute);
      const show = use(showName(name, foreign, plain || texts.length > 2 || texts.some(Boolean)));
      const alone = texts.length === 2 && !texts[0] && !texts[1];
      const args = [JSON.stringify(name), show];
      const guarded = isGuarded(tag, name);
      if (guarded) args.push(JSON.stringify(tag));
      if (!alone) args.push(JSON.stringify(texts));
      if (!alone && !guarded && name.toLowerCase() === 'class' && !plain) args.push(use('classText'));
      const deep = alone && /\.show(?:Class|Style)$/.test(show) ? 'Deep' : '';
      return `${use(`bind${guarded ? 'Guarded' : deep}Attribute${alone ? '' : 'Text'}`)}(${args.join(', ')})`;
    }
  }
}

/**
 * The properties of a record among an element's attributes, if each can be bound separately: all are written out, and
 * none can run code.
 */
export function splitRecord(expression: Node, tag: string): ReadonlyMap<string, Node> | undefined {
  const fields = fieldsOf(bare(expression));
  if (!fields || fields.size === 0) return undefined;
  for (const [key, field] of fields)
    if (field['method'] || (!/^on./.test(key) && isGuarded(tag, key))) return undefined;
  return fields;
}

/** Whether a property of this name is the value of a form field. */
export const isField = (key: string) => /^(?:value|checked|selected)$/.test(key);

/** The binding of one property of a record. */
export function propertyCode(key: string, value: Node, known: Known, module: BinderModule): string {
  const name = JSON.stringify(key);
  if (/^on./.test(key))
    return `${module.use(isFunction(value, known) ? 'bindFunction' : 'bindListener')}(${JSON.stringify(key.slice(2))})`;
  if (isField(key)) return `${module.use('bindFieldProperty')}(${name})`;
  const target = /^[A-Za-z_$][\w$]*$/.test(key) ? `element.${key}` : `element[${name}]`;
  return `${module.use('bindProperty')}(${name}, (element, value) => { ${target} = value; })`;
}

/** Whether an expression is `each(…)`. Nodes that a server has sent need more. */
function isList(expression: Node, module: BinderModule): boolean {
  const call = bare(expression);
  return call.type === 'CallExpression' && module.nameOf(call['callee']) === 'each' && !module.options.rendered;
}

function elementBinder(value: Node, tag: string, module: BinderModule): string {
  if (value.type === 'CallExpression' && /^(?:on|sync|handle)$/.test(module.nameOf(value['callee']) ?? ''))
    return 'bindAttached';
  const fields = value.type === 'ObjectExpression' ? fieldsOf(value) : undefined;
  return fields && [...fields.keys()].every(key => /^on./.test(key) || !isGuarded(tag, key))
    ? 'bindRecord'
    : 'bindElement';
}

const showNames = new Map<unknown, string>([
  [showClass, 'showClass'],
  [showPlain, 'showPlain'],
  [showPrefixed, 'showPrefixed'],
  [showStyle, 'showStyle'],
]);

/** Chooses how an attribute's value is shown; a value that is always text needs the least code. */
function showName(name: string, foreign: boolean, plain: boolean): string {
  const shown = showNames.get(showFor(name, foreign))!;
  return plain && (shown === 'showClass' || shown === 'showPlain') ? 'showValue' : shown;
}
