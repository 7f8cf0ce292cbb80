import { asText } from './as-text.ts';

/** A list whose falsy items do not count, or a record of names and conditions, as the attribute has it. */
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
