import { maxLong, toUnsignedLong } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseNonNegative } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A whole number that reads as at least `min` and at most `max`, as `td.colSpan` has it. The default is `min`.
 * Assigning writes the number as given (HTML §2.6.1, `unsigned long` clamped to the range).
 * @example level: clamped(0, 9)  // <hive-card level="12"> gives 9
 */
export function clamped(min: number, max: number, options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? min;
  return {
    kind: 'clamped',
    ...common(options),
    default: missing,
    details: { min, max },
    ...clampedRule(min, max, missing),
  };
}

/** How it reads and writes. */
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
