/**
 * What every attribute kind is: two pure functions between an attribute's text and a property's value, and the
 * data that describes them. Nothing here touches a DOM.
 */

/** The node whose attribute is read, as far as a kind may look at it. */
export interface KindHost {
  /** The node document's base URL at the time of reading; only `url` looks at it. */
  readonly baseURI: string;
}

/** Options that every kind takes. */
export interface KindOptions {
  /** One sentence for people. */
  readonly about?: string;
  /** What to use in its place, for what is going to be removed: `'use mood'`. Checks report each use of it. */
  readonly deprecated?: string;
  /** The attribute's name, where it is not the property's name in kebab case. */
  readonly attribute?: string;
  /** `false`: the attribute sets the property, but assigning the property leaves the attribute alone. */
  readonly reflect?: boolean;
}

/** How an attribute's text and a property's value become each other: all of a kind that works in a built widget. */
export interface Rule<T> {
  /** The property's value for the attribute's text, null when it is absent. */
  read(text: string | null, host: KindHost): T;
  /**
   * The attribute's new text for an assigned value; null removes the attribute and `undefined` leaves it as it is. What
   * it throws leaves the assignment, and nothing has changed.
   */
  write(value: unknown): string | null | undefined;
  /**
   * Kinds whose value is worth keeping between two readings of the same text (`json`, `custom`) and that fall back
   * to the last good value: `read` may throw, and the element layer keeps, reports and falls back.
   */
  readonly remembers?: boolean;
  /** Kinds whose property is one live object for ever (`tokens`) make it here, over the attribute's text. */
  live?(text: AttributeText): T;
}

/** An attribute kind: its rule, and the data that describes it. */
export interface Kind<T> extends KindOptions, Rule<T> {
  readonly kind: string;
  /** What the property is when the attribute says nothing usable, for manifests and reference pages. */
  readonly default?: unknown;
  /** The declared options that only this kind has, for manifests, controls and reference pages. */
  readonly details?: Readonly<Record<string, unknown>>;
}

/** The text of one attribute of one element: what a live property object reads and writes. */
export interface AttributeText {
  get(): string | null;
  set(text: string): void;
}

/** Only the options that every kind has, without the keys that are not there. */
export function common(options: KindOptions): KindOptions {
  const { about, deprecated, attribute, reflect } = options;
  return {
    ...(about === undefined ? {} : { about }),
    ...(deprecated === undefined ? {} : { deprecated }),
    ...(attribute === undefined ? {} : { attribute }),
    ...(reflect === undefined ? {} : { reflect }),
  };
}
