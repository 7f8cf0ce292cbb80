/** Converts a value to text: null, undefined and booleans are empty. */
export function asText(value: unknown): string {
  return value === null || value === undefined || typeof value === 'boolean' ? '' : String(value);
}
