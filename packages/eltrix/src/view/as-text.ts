/** What a value is inside a text: nothing, if it is null, undefined or a boolean. */
export function asText(value: unknown): string {
  return value === null || value === undefined || typeof value === 'boolean' ? '' : String(value);
}
