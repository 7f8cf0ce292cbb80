import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

/**
 * A boolean attribute, as `element.hidden` had it and `button.disabled` has it: present is true, with any text,
 * so `compact="false"` is true. Truthy writes `""`, falsy removes (HTML §2.6.1).
 * @example compact: flag()  // <hive-card compact>, card.compact = false
 */
export function flag(options: KindOptions = {}): Kind<boolean> {
  return {
    kind: 'flag',
    ...common(options),
    default: false,
    ...flagRule,
  };
}

/** How it reads and writes. */
export const flagRule: Rule<boolean> = {
  read: text => text !== null,
  write: value => (value ? '' : null),
};
