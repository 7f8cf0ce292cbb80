/** The code that creates a template: its HTML, its bindings, and the path to the node of each. */

import type { Namespace } from '../../../eltrix/src/view/analyse.ts';
import { lastProperty } from '../../../eltrix/src/view/order.ts';
import type { Node } from '../project/syntax.ts';
import { type BinderModule, binderCode, propertyCode, splitRecord } from './binder.ts';
import type { Known } from './infer.ts';
import type { PlacedSite, StaticHtml } from './markup-html.ts';
import { walkCode } from './walk.ts';

export interface WrittenTemplate {
  readonly strings: readonly string[];
  readonly expressions: readonly Node[];
  readonly namespace: Namespace;
  /** Whether messages include positions of expressions. */
  readonly places: boolean;
}

export interface TemplateCode {
  readonly code: string;
  /** The values of a piece: its expressions, with records replaced by their fields. */
  readonly values: readonly Node[];
}

export function templateCode(
  { html, path, sites, imported }: StaticHtml,
  { strings, expressions, namespace, places }: WrittenTemplate,
  known: Known,
  module: BinderModule,
): TemplateCode {
  // A record of properties becomes its values, each with a binding.
  const records = new Map<number, ReadonlyMap<string, Node>>();
  for (const { site, tag } of sites) {
    const record = site.kind === 'element' ? splitRecord(expressions[site.expression]!, tag) : undefined;
    if (record) records.set(site.expression, record);
  }
  const recordAt = ({ site }: PlacedSite) => (site.kind === 'element' ? records.get(site.expression) : undefined);
  const values: Node[] = [];
  const starts = expressions.map((expression, at) => {
    const start = values.length;
    const record = records.get(at);
    values.push(...(record ? [...record.values()].map(field => field['value'] as Node) : [expression]));
    return start;
  });
  const bindings = sites.flatMap(placed => {
    const start = starts[placed.site.expression] ?? 0;
    const record = recordAt(placed);
    if (!record) return [{ code: binderCode(placed, expressions, known, module), first: start }];
    const last = lastProperty(placed.tag);
    return [...record]
      .map(([key, field], at) => ({ key, field, first: start + at }))
      .toSorted((a, b) => Number(a.key === last) - Number(b.key === last))
      .map(({ key, field, first }) => ({ code: propertyCode(key, field['value'], known, module), first }));
  });
  const firsts = bindings.map(({ first }) => first);
  const perBinding = <T>(of: (placed: PlacedSite) => T): T[] =>
    sites.flatMap(placed => new Array<T>(recordAt(placed)?.size ?? 1).fill(of(placed)));
  // Omitted if each binding has one value, in order.
  const more = firsts.some((first, i) => first !== i);
  const args = [
    ...(namespace === 'html' ? [] : [JSON.stringify(namespace)]),
    JSON.stringify(html),
    `[${bindings.map(({ code }) => code).join(', ')}]`,
    walkCode(
      path,
      perBinding(({ at }) => at),
    ),
    ...(more || imported || places ? [more ? `[${firsts.join(', ')}]` : 'undefined'] : []),
    ...(imported || places ? [imported ? '1' : '0'] : []),
    ...(places ? [JSON.stringify({ strings, marks: perBinding(({ site }) => [site.expression, site.line]) })] : []),
  ];
  const maker = module.use(namespace === 'html' ? 'template' : 'foreignTemplate');
  return { code: `${maker}(${args.join(', ')})`, values };
}
