/**
 * HTML's number microsyntaxes. Each function returns null where the standard returns an error, and for a missing
 * attribute.
 */

/** HTML §2.3.4.1, rules for parsing integers. `-0` is 0; the result may be outside 2^31 and even infinite. */
export function parseInteger(text: string | null): number | null {
  // parseInt skips other kinds of white space, so the pattern is checked first. A missing attribute ("null") does not
  // match the pattern.
  return /^[\t\n\f\r ]*[+-]?\d/.test(text!) ? Number.parseInt(text!, 10) + 0 : null;
}

/** HTML §2.3.4.2, rules for parsing non-negative integers. `-0` is 0, any other negative number an error. */
export function parseNonNegative(text: string | null): number | null {
  const number = parseInteger(text);
  return number === null || number < 0 ? null : number;
}

/** HTML §2.3.4.3, rules for parsing floating-point number values. Overflow is an error; `-0` is 0. */
export function parseDecimal(text: string | null): number | null {
  // As above; "Infinity" begins with no digit.
  const number = /^[\t\n\f\r ]*[+-]?\.?\d/.test(text!) ? Number.parseFloat(text!) + 0 : Number.NaN;
  return Number.isFinite(number) ? number : null;
}
