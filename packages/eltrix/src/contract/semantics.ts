/** Default semantics for assistive technology, and custom states with conditions. */

// biome-ignore lint/suspicious/noExplicitAny: the element's own type is not known where its contract is stated.
type Element = any;

/** A value for ElementInternals, or a function of the element that is tracked. */
type Semantic = string | null | ((element: Element) => string | null | undefined);

/**
 * Default role and ARIA attributes, which attributes in the page override (ARIA in HTML, ElementInternals' ARIAMixin).
 */
export type Semantics = {
  readonly [K in Exclude<keyof ARIAMixin, `${string}Element` | `${string}Elements`>]?: Semantic;
};

/** A custom state that is set while a condition is true. */
export interface StateDeclaration {
  readonly about: string;
  /** Tracked; called with the element. */
  readonly when: (element: Element) => boolean;
}
