import { contractKey } from '../element/contract-key.ts';
import { definedWithoutRegistry } from '../element/define.ts';
import type { ElementClass } from './host.ts';

/** Element classes: a list, or a record by tag. */
export type RenderedElements = Iterable<ElementClass> | Readonly<Record<string, ElementClass>>;

/** The class of a tag: from the given ones, or from modules that called `define()`. */
export function knownElements(given: RenderedElements | undefined): ReadonlyMap<string, ElementClass> {
  const known = new Map(definedWithoutRegistry as Map<string, ElementClass>);
  if (given === undefined) return known;
  if (Symbol.iterator in given) for (const Class of given as Iterable<ElementClass>) add(known, undefined, Class);
  else for (const [tag, Class] of Object.entries(given)) add(known, tag, Class);
  return known;
}

function add(known: Map<string, ElementClass>, tag: string | undefined, Class: ElementClass): void {
  const contract = (Class as Partial<ElementClass> | undefined)?.[contractKey];
  if (contract === undefined)
    throw new TypeError(
      `(render-class): elements takes classes made with contract(), and ${Class === undefined ? 'undefined' : String((Class as { name?: string }).name ?? Class)} is none. Write elements: [HiveCard].`,
    );
  known.set(tag?.includes('-') ? tag : contract.tag, Class);
}
