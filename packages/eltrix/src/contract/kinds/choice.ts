import { asciiLowerCase, isNullish, toText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';

export interface ChoiceOptions<V extends string> extends KindOptions {
  /** The property's value if the attribute is missing: the missing value default. */
  readonly missing?: V;
  /** The property's value for a text that is not a keyword: the invalid value default. */
  readonly invalid?: V;
  /**
   * The property is null, not `""`, where no default is declared. Assigning null or undefined removes the attribute.
   */
  readonly nullable?: boolean;
  /** Aliases of keywords: `{ '': 'on', yes: 'on' }`. */
  readonly aliases?: Readonly<Record<string, V>>;
}

type WithDefaults<V extends string> = ChoiceOptions<V> & { readonly missing: V; readonly invalid: V };

/**
 * One of several keywords, like `button.type`. Reading ignores ASCII case and returns the canonical spelling;
 * assigning sets the text unchanged (HTML §2.3.3 and §2.6.1, enumerated attributes).
 * @example mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' })
 */
export function choice<const V extends string>(values: readonly V[], options: WithDefaults<NoInfer<V>>): Kind<V>;
export function choice<const V extends string>(
  values: readonly V[],
  options: ChoiceOptions<NoInfer<V>> & { readonly nullable: true },
): Kind<V | null>;
export function choice<const V extends string>(values: readonly V[], options?: ChoiceOptions<NoInfer<V>>): Kind<V | ''>;
export function choice<const V extends string>(
  values: readonly V[],
  options: ChoiceOptions<V> = {},
): Kind<V | '' | null> {
  const { nullable = false, aliases = {} } = options;
  const none = nullable ? null : '';
  const { missing = none, invalid = none } = options;
  return {
    ...common('choice', options, { missing: true, invalid: true, nullable: true, aliases: true }),
    default: missing,
    details: { values, missing, invalid, nullable, aliases },
    ...choiceRule(values, options),
  };
}

/** The conversions. */
export function choiceRule<V extends string>(values: readonly V[], options: ChoiceOptions<V>): Rule<V | '' | null> {
  const { nullable, aliases = {} } = options;
  const none = nullable ? null : '';
  const { missing = none, invalid = none } = options;
  const keywords = new Map<string, V>();
  for (const alias of Object.keys(aliases)) keywords.set(asciiLowerCase(alias), aliases[alias]!);
  for (const value of values) keywords.set(asciiLowerCase(value), value);
  return {
    read: text => (text === null ? missing : (keywords.get(asciiLowerCase(text)) ?? invalid)),
    write: value => (nullable && isNullish(value) ? null : toText(value)),
  };
}

/** The same without aliases and null; the invalid value default is the missing value default unless given. */
export function plainChoiceRule(values: readonly string[], missing = '', invalid = missing): Rule<string> {
  return {
    read(text) {
      if (text === null) return missing;
      const word = asciiLowerCase(text);
      return values.findLast(value => asciiLowerCase(value) === word) ?? invalid;
    },
    write: toText,
  };
}
