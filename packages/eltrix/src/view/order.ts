import type { Site } from './analyse.ts';

/**
 * The order in which the bindings of a view are created. A value is set after what limits it, wherever it is written:
 * that of an `<input>` after its type and limits, that of a `<select>` after its options. What `sync` checks depends on
 * the attribute `value`.
 */
export function orderOf(site: Site): number {
  if (!('tag' in site)) return 0;
  if (site.tag === 'select') return 2;
  if (site.tag !== 'input') return 0;
  return site.kind === 'element' ? 2 : Number(site.kind === 'attribute' && site.name === 'value');
}

/** The property in a record of properties that is set last, for the same reason. */
export const lastProperty = (tag: string): string | undefined =>
  tag === 'input' || tag === 'select' ? 'value' : undefined;
