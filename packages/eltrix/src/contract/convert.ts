/** Web IDL's conversions, as assignments to properties of built-in elements apply them. */

/** Web IDL §3.2.10 DOMString: ToString, so `toString` comes before `valueOf`. A symbol is a TypeError. */
export function toText(value: unknown): string {
  return `${value as string}`;
}

/** Web IDL §3.2.12 USVString: a DOMString in which lone surrogates have become U+FFFD. */
export function toWellFormedText(value: unknown): string {
  return toText(value).toWellFormed();
}

/** Web IDL §3.2.4.5 long: modulo 2^32 into -2^31..2^31-1. Symbols and BigInts are a TypeError. */
export function toLong(value: unknown): number {
  return +(value as number) | 0;
}

/** Web IDL §3.2.4.6 unsigned long: modulo 2^32 into 0..2^32-1. Symbols and BigInts are a TypeError. */
export function toUnsignedLong(value: unknown): number {
  return +(value as number) >>> 0;
}

/** Web IDL §3.2.7 double: NaN and the infinities are a TypeError, as are symbols and BigInts. */
export function toDouble(value: unknown): number {
  const number = +(value as number);
  if (!Number.isFinite(number))
    throw new TypeError(__DEV__ ? `The value ${number} is not finite. Assign a finite number.` : 'not-finite');
  return number;
}

/** Infra §4.6 ASCII lowercase: A to Z only, no Unicode folding. */
export function asciiLowerCase(text: string): string {
  return text.replace(/[A-Z]+/g, letters => letters.toLowerCase());
}

/** The largest value of a reflected `long`, 2^31 - 1. */
export const maxLong = 0x7fffffff;

/** The error of built-in elements for a number out of range. */
export function indexSizeError(value: number, wanted: string): DOMException {
  return new DOMException(__DEV__ ? `The value ${value} is out of range. Assign ${wanted}.` : '', 'IndexSizeError');
}

/**
 * Whether a value is null or undefined. Two comparisons would do, but minifiers make `== null` of them, which is true
 * of `document.all` as well (ECMAScript §B.3.6.2).
 */
export function isNullish(value: unknown): value is null | undefined {
  return Object.is(value, null) || Object.is(value, undefined);
}
