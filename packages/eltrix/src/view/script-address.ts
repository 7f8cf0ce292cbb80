/**
 * Normalizes a URL like its parser (URL §4.4): removes tabs and newlines everywhere, and controls and spaces at the
 * start.
 */
export const spelt = (value: unknown) => String(value).replace(/[\t\n\r]/g, '');

/** Whether a value, used as a URL, would run a script. */
export function isScript(value: unknown): boolean {
  return /^[\0-\x20]*(java|vb)script:/i.test(spelt(value));
}
