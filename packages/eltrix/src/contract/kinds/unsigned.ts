import { maxLong, toUnsignedLong } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseNonNegative } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A whole number from 0 to 2^31-1, like `canvas.width`. The default is 0 (HTML §2.6.1, `unsigned long`).
 * @example seed: unsigned()
 */
export function unsigned(options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? 0;
  return {
    ...common('unsigned', options, { default: true }),
    default: missing,
    ...unsignedRule(missing),
  };
}

/** The conversions. */
export function unsignedRule(missing = 0): Rule<number> {
  return {
    read(text) {
      const number = parseNonNegative(text);
      return number === null || number > maxLong ? missing : number;
    },
    write(value) {
      const number = toUnsignedLong(value);
      return `${number > maxLong ? missing : number}`;
    },
  };
}
