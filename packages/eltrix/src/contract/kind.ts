/**
 * Attribute kinds: two pure functions between an attribute's text and a property's value, and a description. No DOM is
 * needed.
 */

import { refuseUnknown } from './options.ts';

/** The part of a node that kinds may read. */
export interface KindHost {
  /** The base URL of the node's document at the time of reading; used by `url` only. */
  readonly baseURI: string;
}

/** Options of all kinds. */
export interface KindOptions {
  /** A description in one sentence. */
  readonly about?: string;
  /** The replacement, for an attribute that is going to be removed: `'use mood'`. Checks report each use. */
  readonly deprecated?: string;
  /** The attribute's name; the property's name in kebab case unless given. */
  readonly attribute?: string;
  /** `false`: the attribute sets the property, but assigning the property does not set the attribute. */
  readonly reflect?: boolean;
}

/** The conversions of a kind: the part that built elements contain. */
export interface Rule<T> {
  /** The property's value for an attribute's text; the text is null if the attribute is absent. */
  read(text: string | null, host: KindHost): T;
  /**
   * The attribute's text for an assigned value; null removes the attribute and `undefined` leaves it unchanged. If it
   * throws, the assignment throws and nothing changes.
   */
  write(value: unknown): string | null | undefined;
  /**
   * For kinds whose value is kept between two readings of the same text (`json`, `custom`). Their `read` may throw:
   * the element layer reports the error and returns the last valid value.
   */
  readonly remembers?: boolean;
  /**
   * For kinds whose property is one live object (`tokens`): creates the object that reads and writes the attribute's
   * text.
   */
  live?(text: AttributeText): T;
}

/** An attribute kind: its conversions and its description. */
export interface Kind<T> extends KindOptions, Rule<T> {
  readonly kind: string;
  /** The default value, for manifests and reference pages. */
  readonly default?: unknown;
  /** The options of this kind only, for manifests, controls and reference pages. */
  readonly details?: Readonly<Record<string, unknown>>;
}

/** The text of one attribute of one element, for a live property object. */
export interface AttributeText {
  get(): string | null;
  set(text: string): void;
}

/**
 * The name of a kind and the options that all kinds have, without undefined ones.
 * @param own the options that only this kind has, each of them: others are refused.
 */
export function common<Options extends KindOptions>(
  kind: string,
  options: Options,
  own: Readonly<Record<Exclude<keyof Options, keyof KindOptions>, true>>,
): KindOptions & { readonly kind: string } {
  if (__DEV__) {
    if (typeof options !== 'object' || options === null)
      throw new TypeError(
        `The options of a kind are an object, and ${typeof options === 'string' ? JSON.stringify(options) : String(options)} was given. Write for example text({ about: 'The name.' }).`,
      );
    refuseUnknown(kind, options, ['about', 'deprecated', 'attribute', 'reflect', ...Object.keys(own)]);
  }
  const { about, deprecated, attribute, reflect } = options;
  return {
    kind,
    ...(about === undefined ? {} : { about }),
    ...(deprecated === undefined ? {} : { deprecated }),
    ...(attribute === undefined ? {} : { attribute }),
    ...(reflect === undefined ? {} : { reflect }),
  };
}
