/** Finds an identifier as a whole; `\b` knows neither `$` nor letters beyond ASCII. */
export function identifierPattern(name: string): RegExp {
  return new RegExp(
    `(?<![\\p{ID_Continue}$])${name.replace(/[$()*+.?[\\\]^{|}]/g, '\\$&')}(?![\\p{ID_Continue}$])`,
    'u',
  );
}
