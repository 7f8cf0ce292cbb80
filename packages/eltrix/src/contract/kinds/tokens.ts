import { toText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';
import { TokenList } from '../token-list.ts';

export interface TokensOptions extends KindOptions {
  /** The tokens for which `supports()` returns true. Without them `supports()` throws a TypeError. */
  readonly supported?: readonly string[];
}

/**
 * A set of tokens separated by ASCII whitespace, like `link.relList`. The property is always the same live list;
 * assigning a string sets `list.value` (DOM §7.1, DOMTokenList).
 * @example marks: tokens({ supported: ['queen', 'brood'] })  // card.marks.add('queen')
 */
export function tokens(options: TokensOptions = {}): Kind<TokenList> {
  const { supported } = options;
  return {
    ...common('tokens', options, { supported: true }),
    default: '',
    ...(supported ? { details: { supported } } : {}),
    ...tokensRule(options),
  };
}

/** The conversions. */
export function tokensRule({ supported }: TokensOptions): Rule<TokenList> {
  return {
    read: text => new TokenList({ get: () => text, set: () => {} }, supported),
    write: toText,
    live: text => new TokenList(text, supported),
  };
}
