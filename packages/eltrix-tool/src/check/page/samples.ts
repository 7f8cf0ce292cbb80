/** Sample values for an element's attributes and properties, from their declarations. */
import type { PropertyDescription } from '../../describe/description.ts';
import { factsOf, type Sample } from '../../project/kinds/index.ts';
import type { CheckSpecimen, CheckTask } from './model.ts';
import { nodesOf } from './place.ts';

/** Valid attribute texts, with the property's value for each. */
export function samplesOf(property: PropertyDescription, { specimens, foreign }: CheckTask): Sample[] {
  const { attribute, kind } = property;
  // A manifest's "string" or "number" says little about valid values. In other cases only the author knows them.
  const isKnown = !foreign || kind === 'flag' || kind === 'choice';
  const samples = isKnown ? factsOf(kind).samples?.(property, document.baseURI) : undefined;
  return samples ?? specimenTexts(attribute!, specimens).map(text => ({ text }));
}

/** Invalid attribute texts, for which the property has its declared default. */
export const badTexts = ({ kind }: PropertyDescription): readonly string[] => factsOf(kind).invalid ?? [];

function specimenTexts(attribute: string, specimens: readonly CheckSpecimen[]): string[] {
  const texts = specimens.flatMap(({ html }) =>
    [...nodesOf(html).querySelectorAll(`[${CSS.escape(attribute)}]`)].map(element => element.getAttribute(attribute)!),
  );
  return [...new Set(texts)].slice(0, 3);
}

/** A value in messages. */
export function shown(value: unknown): string {
  if (typeof value === 'string') return JSON.stringify(value);
  if (value === null || value === undefined || typeof value !== 'object') return String(value);
  try {
    return JSON.stringify(value).slice(0, 80);
  } catch {
    return String(value);
  }
}
