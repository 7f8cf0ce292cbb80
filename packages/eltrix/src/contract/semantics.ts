/** What an element means to assistive technology, and states that follow from conditions. */

// biome-ignore lint/suspicious/noExplicitAny: the element's own type is not known where its contract is stated.
type Element = any;

/** A value for ElementInternals, or a function of the element that is live. */
type Semantic = string | null | ((element: Element) => string | null | undefined);

/** Role and ARIA attributes that count unless the page states others (ARIA in HTML, ElementInternals' ARIAMixin). */
export type Semantics = {
  readonly [K in Exclude<keyof ARIAMixin, `${string}Element` | `${string}Elements`>]?: Semantic;
};

/** A custom state that is set while a condition is true. */
export interface StateDeclaration {
  readonly about: string;
  /** Live: gets the element. */
  readonly when: (element: Element) => boolean;
}
