/** Numbers, dates and lists in the language of an element. */
import { locale } from './locale.ts';

/** Creating a formatter of Intl is slow, so each is created once. */
const made = new Map<string, unknown>();

function cached<F>(kind: string, tag: string, options: object | undefined, make: () => F): F {
  const key = `${kind} ${tag} ${JSON.stringify(options)}`;
  let formatter = made.get(key) as F | undefined;
  if (formatter === undefined) made.set(key, (formatter = make()));
  return formatter;
}

/** The formatters of a language; the same options give the same formatter (ECMA-402). */
export const numberFormat = (tag: string, options?: Intl.NumberFormatOptions): Intl.NumberFormat =>
  cached('number', tag, options, () => new Intl.NumberFormat(tag, options));

export const pluralRules = (tag: string, options?: Intl.PluralRulesOptions): Intl.PluralRules =>
  cached('plural', tag, options, () => new Intl.PluralRules(tag, options));

/** Formats values in the element's language. Each call depends on that language. */
export interface Formats {
  /** @example format.number(12.5, { style: 'unit', unit: 'kilogram' }) */
  number(value: number | bigint, options?: Intl.NumberFormatOptions): string;
  /** @param value a Date, or milliseconds since 1970. */
  date(value: Date | number, options?: Intl.DateTimeFormatOptions): string;
  /** @example format.relative(-3, 'day', { numeric: 'auto' }) */
  relative(value: number, unit: Intl.RelativeTimeFormatUnit, options?: Intl.RelativeTimeFormatOptions): string;
  list(values: Iterable<string>, options?: Intl.ListFormatOptions): string;
  /** Compares strings for sorting. */
  compare(a: string, b: string, options?: Intl.CollatorOptions): number;
}

/**
 * Formatters for an element: `format = formats(this)`, then `${() => this.format.date(this.opened)}`.
 *
 * @throws RangeError from a call with options that Intl does not take.
 * @example readonly format = formats(this);  // ${() => this.format.number(1234.5)}
 */
export function formats(host: Element): Formats {
  return {
    number: (value, options) => numberFormat(locale(host), options).format(value),
    date(value, options) {
      const tag = locale(host);
      return cached('date', tag, options, () => new Intl.DateTimeFormat(tag, options)).format(value);
    },
    relative(value, unit, options) {
      const tag = locale(host);
      return cached('relative', tag, options, () => new Intl.RelativeTimeFormat(tag, options)).format(value, unit);
    },
    list(values, options) {
      const tag = locale(host);
      return cached('list', tag, options, () => new Intl.ListFormat(tag, options)).format(values);
    },
    compare(a, b, options) {
      const tag = locale(host);
      return cached('compare', tag, options, () => new Intl.Collator(tag, options)).compare(a, b);
    },
  };
}
