/** What static elements may have besides a view of their properties. Only builds that use it contain it. */
import type { Holder, Home } from '../../signals/state.ts';
import type { Member } from '../plan.ts';

/** The callbacks of a static element, which update its view. */
export interface Callbacks {
  connectedCallback(): void;
  adoptedCallback(from?: Document, to?: Document): void;
  attributeChangedCallback(
    name?: string,
    before?: string | null,
    after?: string | null,
    namespace?: string | null,
  ): void;
  disconnectedCallback(): void;
}

/** What the platform gives to `attributeChangedCallback` (HTML §4.13.6). */
export type AttributeChange = [name: string, before: string | null, after: string | null, namespace?: string | null];

// TypeScript wants this parameter of a class that is extended in a function.
// biome-ignore lint/suspicious/noExplicitAny: see above
export type LeanClass = new (...args: any[]) => HTMLElement & Callbacks;

/** The name of a member and of its attribute. */
export type Named = readonly [name: string, attribute?: string, ...unknown[]];

/** The owner of what follows changes in a static element: its view, unless it has a life. */
export interface LeanHome extends Home, Holder {
  /** Follows changes of properties. */
  view?: Pick<Home, 'changed'> | undefined;
}

export interface Ability {
  /** Called once for its class. @param members those with attributes; it adds the others. @returns a subclass. */
  extend(Class: LeanClass, members: Named[]): LeanClass;
  /**
   * Called in its constructor, before its root exists.
   * @returns the holder of its values, if there is one already.
   */
  begin(host: HTMLElement, Class: { readonly prototype: object }): LeanHome | undefined;
}

export const membersOf = (names: readonly Named[]): Member[] =>
  names.map(([name, attribute], index) => ({ name, attribute, index, reflects: attribute !== undefined }));
