/** Sample values for an element's attributes and properties, from their declarations. */
import type { PropertyDescription } from '../../describe/description.ts';
import type { CheckSpecimen, CheckTask } from './model.ts';
import { nodesOf } from './place.ts';

export interface Sample {
  /** The attribute's text. */
  readonly text: string;
  /** The expected property value; undefined if unknown. */
  readonly value?: unknown;
}

/** Valid attribute texts, with the property's value for each. */
export function samplesOf(property: PropertyDescription, { specimens, foreign }: CheckTask): Sample[] {
  const numbers = (...values: number[]) => values.map(value => ({ text: String(value), value }));
  const { kind, values, range } = property;
  // A manifest's "string" or "number" says little about valid values.
  if (foreign && kind !== 'flag' && kind !== 'choice')
    return specimenTexts(property.attribute!, specimens).map(text => ({ text }));
  switch (kind) {
    case 'text':
      return [
        { text: 'Sorrel', value: 'Sorrel' },
        { text: '', value: '' },
        { text: ' two words ', value: ' two words ' },
      ];
    case 'flag':
      return [{ text: '', value: true }];
    case 'integer':
      return numbers(7, 0, -3);
    case 'nonNegative':
    case 'unsigned':
      return numbers(7, 0);
    case 'positive':
      return numbers(7, 1);
    case 'clamped':
      return numbers(range![0], range![1]);
    case 'decimal':
      return numbers(1.5, 0, -2);
    case 'positiveDecimal':
      return numbers(1.5, 3);
    case 'choice':
      return values.map(value => ({ text: value, value }));
    case 'url':
      return [{ text: 'field/hive.svg', value: new URL('field/hive.svg', document.baseURI).href }];
    case 'tokens':
      return [{ text: values.length > 0 ? values[0]! : 'one two' }];
    default:
      // Only the author knows valid values; the specimens contain some.
      return specimenTexts(property.attribute!, specimens).map(text => ({ text }));
  }
}

/** Invalid attribute texts, for which the property has its declared default. */
export function badTexts({ kind }: PropertyDescription): string[] {
  switch (kind) {
    case 'integer':
    case 'nonNegative':
    case 'unsigned':
    case 'positive':
    case 'clamped':
      return ['', 'many', '-'];
    case 'decimal':
    case 'positiveDecimal':
      return ['', 'many', 'NaN'];
    case 'choice':
      return ['no-such-word'];
    default:
      return [];
  }
}

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
