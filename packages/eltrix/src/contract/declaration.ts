import type { EventDeclaration } from './event.ts';
import type { Kind } from './kind.ts';
import type { PropertyDeclaration } from './property.ts';
import type { Semantics, StateDeclaration } from './semantics.ts';
import type { SlotDeclaration } from './slot.ts';

// biome-ignore lint/suspicious/noExplicitAny: a record of kinds of any value each; inference narrows it.
type Any = any;

/** The public surface of an element. */
export interface Declaration {
  /** A description in one sentence. */
  readonly about?: string;
  /** The replacement, for an element that is going to be removed: `'use mood'`. Checks report each use. */
  readonly deprecated?: string;
  /** Property name to attribute kind. */
  readonly attributes?: Readonly<Record<string, Kind<Any>>>;
  /** Name to a property that has no attribute. */
  readonly properties?: Readonly<Record<string, PropertyDeclaration<Any>>>;
  /** Event type to its declaration. */
  readonly events?: Readonly<Record<string, EventDeclaration<Any>>>;
  /** Slot name (`''` is the default slot) to its declaration. */
  readonly slots?: Readonly<Record<string, SlotDeclaration>>;
  /** Shadow part name to its description. */
  readonly parts?: Readonly<Record<string, string>>;
  /** Custom property name, dashes included, to its description. */
  readonly cssProperties?: Readonly<Record<`--${string}`, string>>;
  /** Custom state name to its description; matched by `:state(name)`. With `when` the state follows a condition. */
  readonly states?: Readonly<Record<string, string | StateDeclaration>>;
  /**
   * Default role and ARIA values, which attributes in the page override: `{ role: 'meter', ariaValueNow: card =>
   * String(card.level) }`.
   */
  readonly semantics?: Semantics;
  /** Rules of the conformance check that it cannot pass, each with the reason: `{ exempt: { 'made-alike': 'shows the time' } }`. */
  readonly conformance?: { readonly exempt?: Readonly<Record<string, string>> };
  /** False: a server leaves the element to the browser. */
  readonly render?: boolean;
  /** Whether the element is form-associated. */
  readonly form?: boolean;
  /**
   * Options of the shadow root, which is open by default. `'none'` puts the view into the element. With
   * `customElementRegistry` the view uses the elements of that registry, where the engine supports scoped registries
   * (HTML §4.13.4).
   */
  readonly shadow?: Partial<ShadowRootInit> | 'none';
  /** The built-in tag that a customized built-in element extends; implies `shadow: 'none'`. */
  readonly extends?: keyof HTMLElementTagNameMap;
}

/** A custom element name, as far as a type can check it: lower case, with a hyphen. */
export type TagName<Tag extends string> = Tag extends `${infer _}-${infer _}` ? Lowercase<Tag> : `${Tag}-element`;

/**
 * Errors that type inference does not find: unknown keys in a declaration, custom properties without their hyphens, a
 * name declared twice.
 */
export type Checked<D extends Declaration> = { readonly [K in Exclude<keyof D, keyof Declaration>]: never } & {
  readonly cssProperties?: { readonly [K in Exclude<keyof D['cssProperties'], `--${string}`>]: never };
  readonly properties?: { readonly [K in keyof D['attributes'] & keyof D['properties']]: never };
};

type KindValue<K> = K extends Kind<infer T> ? T : never;
type PropertyValue<P> = P extends PropertyDeclaration<infer T> ? T : never;
type DetailOf<E> = E extends EventDeclaration<infer Detail> ? Detail : never;
type Simplify<T> = { -readonly [K in keyof T]: T[K] };

/** The properties of an element with this declaration. */
export type PropertiesOf<D extends Declaration> = Simplify<
  {
    [K in keyof D['attributes']]: KindValue<D['attributes'][K]>;
  } & { [K in keyof D['properties']]: PropertyValue<D['properties'][K]> }
>;

/** Event type to the type of its detail. */
export type DetailsOf<D extends Declaration> = {
  [K in keyof D['events']]: DetailOf<D['events'][K]>;
};
