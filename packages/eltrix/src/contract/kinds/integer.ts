import { toLong } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';
import { parseInteger } from '../parse-number.ts';

export interface NumberOptions extends KindOptions {
  /** The property's value if the attribute is missing or invalid. */
  readonly default?: number;
}

/**
 * A whole number from -2^31 to 2^31-1, like `li.value`. The default is 0 (HTML §2.6.1, `long`).
 * @example boxes: integer({ default: 1 })  // <hive-card boxes="2">, card.boxes === 2
 */
export function integer(options: NumberOptions = {}): Kind<number> {
  const missing = options.default ?? 0;
  return {
    ...common('integer', options, { default: true }),
    default: missing,
    ...integerRule(missing),
  };
}

/** The conversions. */
export function integerRule(missing = 0): Rule<number> {
  return {
    read(text) {
      const number = parseInteger(text);
      return number === null || number !== (number | 0) ? missing : number;
    },
    write: value => `${toLong(value)}`,
  };
}
