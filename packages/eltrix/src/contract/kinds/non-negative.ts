import { indexSizeError, maxLong, toLong } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseNonNegative } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A whole number from 0 to 2^31-1, like `input.maxLength`. The default is -1, which means "none" (HTML §2.6.1, `long`
 * limited to only non-negative numbers).
 * @throws DOMException IndexSizeError when a negative number is assigned.
 * @example visits: nonNegative({ default: 0 })
 */
export function nonNegative(options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? -1;
  return {
    ...common('nonNegative', options, { default: true }),
    default: missing,
    ...nonNegativeRule(missing),
  };
}

/** The conversions. */
export function nonNegativeRule(missing = -1): Rule<number> {
  return {
    read(text) {
      const number = parseNonNegative(text);
      return number === null || number > maxLong ? missing : number;
    },
    write(value) {
      const number = toLong(value);
      if (number < 0) throw indexSizeError(number, 'zero or a positive whole number');
      return `${number}`;
    },
  };
}
