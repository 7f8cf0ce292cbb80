import { toDouble } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseDecimal } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A finite number above 0, like `progress.max`. The default is 0. Assigning 0 or less does nothing (HTML §2.6.1,
 * `double` limited to only positive numbers).
 * @throws TypeError when NaN or an infinity is assigned.
 * @example scale: positiveDecimal({ default: 1 })
 */
export function positiveDecimal(options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? 0;
  return {
    ...common('positiveDecimal', options, { default: true }),
    default: missing,
    ...positiveDecimalRule(missing),
  };
}

/** The conversions. */
export function positiveDecimalRule(missing = 0): Rule<number> {
  return {
    read(text) {
      const number = parseDecimal(text);
      return number === null || number <= 0 ? missing : number;
    },
    write(value) {
      const number = toDouble(value);
      return number > 0 ? String(number) : undefined;
    },
  };
}
