import { toDouble } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseDecimal } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

/**
 * A finite number, like `meter.value`. The default is 0 (HTML §2.6.1, `double`).
 * @throws TypeError when NaN or an infinity is assigned.
 * @example weight: decimal({ default: 20.5 })
 */
export function decimal(options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? 0;
  return {
    ...common('decimal', options, { default: true }),
    default: missing,
    ...decimalRule(missing),
  };
}

/** The conversions. */
export function decimalRule(missing = 0): Rule<number> {
  return {
    read: text => parseDecimal(text) ?? missing,
    write: value => String(toDouble(value)),
  };
}
