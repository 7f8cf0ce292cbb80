import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';
import { parseJson } from '../parse-json.ts';

export interface JsonOptions<T> extends KindOptions {
  /** The property's value without the attribute; a function creates a value for each element. Null unless given. */
  readonly default?: T | (() => T);
}

/**
 * Any JSON value. Reading returns the same object until the attribute changes. Invalid JSON is reported with its
 * position, and the property keeps its last valid value. Strings may use single quotes, so that HTML can contain
 * `frames="[{'id': 1}]"`. Assigning sets compact JSON; `undefined` removes the attribute.
 * @throws TypeError when a value is assigned that JSON cannot hold (a function, a symbol, a cycle, a BigInt).
 * @example path: json<number[]>({ default: () => [] })  // <hive-card path="[1, 2]">
 */
export function json<T>(options: JsonOptions<T> & { readonly default: T | (() => T) }): Kind<T>;
export function json<T>(options?: JsonOptions<T>): Kind<T | null>;
export function json<T>(options: JsonOptions<T> = {}): Kind<T | null> {
  const fallback = options.default;
  return {
    ...common('json', options, { default: true }),
    default: fallback ?? null,
    ...jsonRule(options),
  };
}

/** The conversions. */
export function jsonRule<T>(options: JsonOptions<T>): Rule<T | null> {
  const fallback = options.default;
  return {
    remembers: true,
    read(text) {
      if (text === null) return typeof fallback === 'function' ? (fallback as () => T)() : (fallback ?? null);
      return parseJson(text) as T;
    },
    write(value) {
      if (value === undefined) return null;
      const text = JSON.stringify(value);
      if (text === undefined) throw new TypeError(`A ${typeof value} has no JSON form. Assign data.`);
      return text;
    },
  };
}
