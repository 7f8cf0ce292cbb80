import { indexSizeError, maxLong, toUnsignedLong } from '../convert.ts';
import { common, type Kind, type Rule } from '../kind.ts';
import { parseNonNegative } from '../parse-number.ts';
import type { NumberOptions } from './integer.ts';

export interface PositiveOptions extends NumberOptions {
  /** Assigning 0 writes the default rather than throwing, as `textarea.rows` has it. */
  readonly fallback?: boolean;
}

/**
 * A whole number from 1 to 2^31-1, as `input.size` has it. The default is 1
 * (HTML §2.6.1, `unsigned long` limited to only positive numbers, with or without fallback).
 * @throws DOMException IndexSizeError when 0 is assigned, unless `fallback` is set.
 * @example columns: positive({ default: 3 })
 */
export function positive(options: PositiveOptions = {}): Kind<number> {
  const missing = options.default ?? 1;
  const fallback = options.fallback ?? false;
  return {
    ...common('positive', options, { default: true, fallback: true }),
    default: missing,
    ...(fallback ? { details: { fallback } } : {}),
    ...positiveRule(missing, fallback),
  };
}

/** How it reads and writes. */
export function positiveRule(missing = 1, fallback = false): Rule<number> {
  return {
    read(text) {
      const number = parseNonNegative(text);
      return number === null || number === 0 || number > maxLong ? missing : number;
    },
    write(value) {
      const number = toUnsignedLong(value);
      if (number === 0 && !fallback) throw indexSizeError(number, 'a positive whole number');
      return `${number === 0 || number > maxLong ? missing : number}`;
    },
  };
}
