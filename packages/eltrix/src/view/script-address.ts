/** An address as its parser takes it (URL §4.4): tab and newline are ignored anywhere, leading controls and spaces stripped. */
export const spelt = (value: unknown) => String(value).replace(/[\t\n\r]/g, '');

/** Whether a value, taken for an address, would run a script. */
export function isScript(value: unknown): boolean {
  return /^[\0-\x20]*(java|vb)script:/i.test(spelt(value));
}
