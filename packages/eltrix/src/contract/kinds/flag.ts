import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

/**
 * A boolean attribute, like `button.disabled`: a present attribute means true, with any text, so `compact="false"`
 * is true. Assigning a truthy value sets `""`, a falsy one removes the attribute (HTML §2.6.1).
 * @example compact: flag()  // <hive-card compact>, card.compact = false
 */
export function flag(options: KindOptions = {}): Kind<boolean> {
  return {
    ...common('flag', options, {}),
    default: false,
    ...flagRule,
  };
}

/** The conversions. */
export const flagRule: Rule<boolean> = {
  read: text => text !== null,
  write: value => (value ? '' : null),
};
