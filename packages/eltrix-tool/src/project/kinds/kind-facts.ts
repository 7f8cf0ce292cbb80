/**
 * What tools know of an attribute kind: how it is compiled, its types, its control, sample values, and the mistakes in
 * pages. The conversions of a kind are in the library (`contract/kinds`).
 */

/** An attribute as declared, or as a manifest describes it. */
export interface Declared {
  readonly name: string;
  /** The keywords of a choice, or the supported tokens. */
  readonly values: readonly string[];
  readonly aliases: readonly string[];
  readonly range: readonly [min: number, max: number] | undefined;
}

/** A control of the gallery. */
export type AttributeControl = 'flag' | 'number' | 'range' | 'choice' | 'url' | 'tokens' | 'json' | 'text';

export interface Sample {
  /** The attribute's text. */
  readonly text: string;
  /** The expected property value; undefined if unknown. */
  readonly value?: unknown;
}

/** A mistake in an attribute's text. */
export interface ValueProblem {
  readonly code: string;
  readonly message: string;
  /** Its offset in the text, in UTF-16 units. */
  readonly offset?: number;
  /** The replacement, if there is exactly one; null removes the attribute. */
  readonly instead?: string | null;
}

/** The options in a call of a kind, as code. */
export interface OptionCodes {
  /** The names of the kind's own options. */
  readonly own: ReadonlySet<string>;
  /** The code of one option. */
  said(key: string): string | undefined;
  /** The object with the kind's own options. */
  readonly code: string;
}

export interface KindFacts {
  /** How many arguments precede the options. */
  readonly positional: number;
  /**
   * The conversions in compiled code: the name of a runtime export, with arguments if it is a function.
   * @param given the arguments that precede the options.
   */
  rule(given: readonly string[], options: OptionCodes): string;
  /** How compiled code makes the property: from the attribute alone, with a value beside it, or as a live object. */
  readonly state: 'attribute' | 'kept' | 'live';
  /** The type of values that are primitives, besides null. */
  readonly primitive?: 'text' | 'number' | 'flag';
  /** The property's type; undefined if only the source knows it. */
  type(details: Readonly<Record<string, unknown>>): string | undefined;
  /** The values that an expression in markup may have, as a TypeScript type; any primitive unless given. */
  accepts?(declared: Declared): string;
  control(declared: Declared): AttributeControl;
  /** The step and least value of a number's control. */
  readonly whole?: boolean;
  readonly least?: number;
  /**
   * Valid texts; undefined if only the author knows any.
   * @param base the URL of the document.
   */
  samples?(declared: Declared, base: string): Sample[];
  /** Texts for which the property has its default. */
  readonly invalid?: readonly string[];
  problem?(declared: Declared, text: string): ValueProblem | undefined;
}

export const quoted = (text: string) => JSON.stringify(text.length > 60 ? `${text.slice(0, 59)}…` : text);

/** A call with the options of the kind as they are written. */
export const call =
  (name: string): KindFacts['rule'] =>
  (given, { code }) =>
    `${name}(${[...given, code].join(', ')})`;
