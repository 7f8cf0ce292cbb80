import type { Site } from './analyse.ts';

/**
 * The order in which the bindings of a view are created. A value is set after what limits it, wherever it is written:
 * that of an `<input>` after its type and limits, that of a `<select>` after its options.
 */
export function orderOf(site: Site): number {
  if (!('tag' in site)) return 0;
  if (site.tag === 'select') return 2;
  const isValue = site.kind === 'element' || (site.kind === 'attribute' && site.name === 'value');
  return site.tag === 'input' && isValue ? 1 : 0;
}

/** The property in a record of properties that is set last, for the same reason. */
export const lastProperty = (tag: string): string | undefined =>
  tag === 'input' || tag === 'select' ? 'value' : undefined;
