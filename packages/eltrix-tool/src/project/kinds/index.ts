/** All attribute kinds, by the name of the function that declares them. */
import { flag } from './flag.ts';
import type { KindFacts } from './kind-facts.ts';
import { clamped, decimal, integer, nonNegative, positive, positiveDecimal, unsigned } from './numbers.ts';
import { choice, custom, json, text, tokens, url } from './texts.ts';

export type { AttributeControl, Declared, KindFacts, Sample, ValueProblem } from './kind-facts.ts';

export const kinds = {
  text,
  flag,
  integer,
  nonNegative,
  unsigned,
  positive,
  clamped,
  decimal,
  positiveDecimal,
  choice,
  url,
  tokens,
  json,
  custom,
} satisfies Record<string, KindFacts>;

export type KindName = keyof typeof kinds;

export const isKind = (name: string): name is KindName => Object.hasOwn(kinds, name);

/** The facts of a kind; those of `custom` for `data` and `live`. */
export const factsOf = (name: string): KindFacts => (isKind(name) ? kinds[name] : custom);
