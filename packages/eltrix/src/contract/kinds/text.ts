import { isNullish, toText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

export interface TextOptions extends KindOptions {
  /** The property is null without the attribute, and assigning null or undefined removes the attribute. */
  readonly nullable?: boolean;
  /** Assigning null sets `""`. */
  readonly nullAsEmpty?: boolean;
}

/**
 * A string, like `element.id`; with `nullable` like `element.ariaLabel` (HTML §2.6.1).
 * @throws TypeError when a symbol is assigned.
 * @example name: text({ about: 'Painted on the front of the hive.' })
 */
export function text(options: TextOptions & { readonly nullable: true }): Kind<string | null>;
export function text(options?: TextOptions): Kind<string>;
export function text(options: TextOptions = {}): Kind<string | null> {
  const { nullable = false, nullAsEmpty = false } = options;
  const absent = nullable ? null : '';
  return {
    ...common('text', options, { nullable: true, nullAsEmpty: true }),
    default: absent,
    ...(nullable || nullAsEmpty ? { details: { nullable, nullAsEmpty } } : {}),
    ...textRule(options),
  };
}

/** The conversions. */
export function textRule({ nullable, nullAsEmpty }: TextOptions): Rule<string | null> {
  const absent = nullable ? null : '';
  return {
    read: text => text ?? absent,
    write(value) {
      if (nullable && isNullish(value)) return null;
      return nullAsEmpty && value === null ? '' : toText(value);
    },
  };
}

/** The same without options. */
export const plainText: Rule<string> = { read: text => text ?? '', write: toText };
