import { common, type Kind, type KindOptions } from '../kind.ts';

/**
 * A boolean attribute, as `element.hidden` had it and `button.disabled` has it: present is true, whatever its text,
 * so `compact="false"` is true. Truthy writes `""`, falsy removes (HTML §2.6.1).
 */
export function flag(options: KindOptions = {}): Kind<boolean> {
  return {
    kind: 'flag',
    ...common(options),
    default: false,
    read: text => text !== null,
    write: value => (value ? '' : null),
  };
}
