import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

export interface CustomOptions<T> extends KindOptions {
  /**
   * Converts the attribute's text, null if it is absent. An error is reported, and the property keeps its last valid
   * value.
   */
  parse(text: string | null): T;
  /**
   * Converts a value to the attribute's text; null removes the attribute. An error is thrown by the assignment, which
   * changes nothing.
   */
  print(value: T): string | null;
}

/**
 * An author's own kind. Reading returns the same value until the attribute changes.
 * @example since: custom({ parse: text => (text === null ? null : new Date(text)), print: date => date && date.toISOString() })
 */
export function custom<T>(options: CustomOptions<T>): Kind<T> {
  return {
    ...common('custom', options, { parse: true, print: true }),
    ...customRule(options),
  };
}

/** The conversions. */
export function customRule<T>(options: Pick<CustomOptions<T>, 'parse' | 'print'>): Rule<T> {
  return {
    remembers: true,
    read: text => options.parse(text),
    write(value) {
      const text = options.print(value as T);
      return text === null ? null : `${text}`;
    },
  };
}
