const escapes: Readonly<Record<string, string>> = { '\n': '\\n', '\r': '\\r' };

/** A text as a string of JavaScript, in single quotes. */
export const singleQuoted = (text: string): string =>
  `'${text.replace(/[\\'\n\r]/g, sign => escapes[sign] ?? `\\${sign}`)}'`;
