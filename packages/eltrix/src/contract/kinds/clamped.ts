import { maxLong, toUnsignedLong } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseNonNegative } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A whole number, read as at least `min` and at most `max`, like `td.colSpan`. The default is `min`. Assigning sets
 * the number unchanged (HTML §2.6.1, `unsigned long` clamped to the range).
 * @example level: clamped(0, 9)  // <hive-card level="12"> gives 9
 */
export function clamped(min: number, max: number, options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? min;
  return {
    ...common('clamped', options, { default: true }),
    default: missing,
    details: { min, max },
    ...clampedRule(min, max, missing),
  };
}

/** The conversions. */
export function clampedRule(min: number, max: number, missing = min): Rule<number> {
  return {
    read(text) {
      const number = parseNonNegative(text);
      return number === null ? missing : Math.min(Math.max(number, min), max);
    },
    write(value) {
      const number = toUnsignedLong(value);
      return `${number > maxLong ? missing : number}`;
    },
  };
}
