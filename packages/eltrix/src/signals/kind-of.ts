import { isSignal } from './readable.ts';

/** Development: describes the type of a value: "a list", "an object", "null", a string in quotes. */
export function kindOf(value: unknown): string {
  if (value === null || value === undefined) return String(value);
  if (typeof value === 'string') return JSON.stringify(value.length > 60 ? `${value.slice(0, 59)}…` : value);
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'number' || typeof value === 'boolean') return String(value);
  if (typeof value !== 'object') return `a ${typeof value}`;
  return isSignal(value) ? 'a signal' : 'an object';
}
