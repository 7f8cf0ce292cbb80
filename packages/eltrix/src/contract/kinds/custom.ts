import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

export interface CustomOptions<T> extends KindOptions {
  /** From the attribute's text, null when it is absent. What it throws is reported; the last good value stays. */
  parse(text: string | null): T;
  /** To the attribute's text; null removes it. What it throws is thrown by the assignment, and nothing changes. */
  print(value: T): string | null;
}

/**
 * A kind of one's own. Reading gives the same value until the attribute changes.
 * @example since: custom({ parse: text => (text === null ? null : new Date(text)), print: date => date && date.toISOString() })
 */
export function custom<T>(options: CustomOptions<T>): Kind<T> {
  return {
    kind: 'custom',
    ...common(options),
    ...customRule(options),
  };
}

/** How it reads and writes. */
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
