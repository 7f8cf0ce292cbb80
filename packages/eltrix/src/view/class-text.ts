import { asText } from './as-text.ts';

/** Converts a list without its falsy items, or a record of names and conditions, to the text of a `class` attribute. */
export function classText(value: unknown): string {
  if (Array.isArray(value)) return value.map(classText).filter(Boolean).join(' ');
  if (typeof value === 'object' && value !== null) {
    const record = value as Record<string, unknown>;
    return Object.keys(record)
      .filter(key => record[key])
      .join(' ');
  }
  return asText(value);
}
