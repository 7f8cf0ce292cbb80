import { toText } from '../convert.ts';
import { common, type Kind, type KindOptions, type Rule } from '../kind.ts';
import { TokenList } from '../token-list.ts';

export interface TokensOptions extends KindOptions {
  /** The tokens that `supports()` answers true for. Without it `supports()` throws a TypeError. */
  readonly supported?: readonly string[];
}

/**
 * A set of tokens separated by ASCII whitespace, as `link.relList` has it: the property is one live list for ever,
 * and assigning text to it sets `list.value` (DOM §7.1, DOMTokenList).
 * @example marks: tokens({ supported: ['queen', 'brood'] })  // card.marks.add('queen')
 */
export function tokens(options: TokensOptions = {}): Kind<TokenList> {
  const { supported } = options;
  return {
    kind: 'tokens',
    ...common(options),
    default: '',
    ...(supported ? { details: { supported } } : {}),
    ...tokensRule(options),
  };
}

/** How it reads and writes. */
export function tokensRule({ supported }: TokensOptions): Rule<TokenList> {
  return {
    read: text => new TokenList({ get: () => text, set: () => {} }, supported),
    write: toText,
    live: text => new TokenList(text, supported),
  };
}
