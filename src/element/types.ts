import type { Scope } from './scope.ts';
import type { StyleSource } from './styles.ts';

/** `addEventListener` for declared events; stands before HTMLElement's own. */
export interface Listeners<Details> {
  addEventListener<Type extends keyof Details & string>(
    type: Type,
    listener: (event: CustomEvent<Details[Type]>) => unknown,
    options?: boolean | AddEventListenerOptions,
  ): void;
  removeEventListener<Type extends keyof Details & string>(
    type: Type,
    listener: (event: CustomEvent<Details[Type]>) => unknown,
    options?: boolean | EventListenerOptions,
  ): void;
}

/** `emit` for declared events: the detail may be left out where it is null or may be undefined. */
export interface Emits<Details> {
  /** Sends a declared event. Returns false if a listener cancelled it. @throws TypeError if it is not declared. */
  emit<Type extends keyof Details & string>(
    type: Type,
    ...detail: null extends Details[Type]
      ? [detail?: Details[Type]]
      : undefined extends Details[Type]
        ? [detail?: Details[Type]]
        : [detail: Details[Type]]
  ): boolean;
}

/** What every element made with Eltrix has beside what it declares. */
export interface ElementBase extends HTMLElement {}

/** The methods that an element may have; the library calls them. `define()` checks that they fit. */
export interface Hooks {
  /** Once an instance, at its first connection, synchronously; live holes keep it current afterwards. */
  view?(): unknown;
  /** Once, when the tree stands: handles point at their elements. */
  assembled?(): void;
  /** Each time it is put into a document; everything taken through `scope` is given back when it leaves. */
  connected?(scope: Scope): void;
  disconnected?(): void;
  /** A move that keeps state (DOM §4.2.6). An element without it is disconnected and connected. */
  moved?(): void;
  adopted?(from: Document, to: Document): void;
  /** With the attribute's own name, when the property already has the new value. */
  attributeChanged?(name: string, before: string | null, after: string | null): void;
  formAssociated?(form: HTMLFormElement | null): void;
  formDisabled?(disabled: boolean): void;
  formReset?(): void;
  formStateRestore?(state: string | File | FormData | null, reason: 'restore' | 'autocomplete'): void;
}

/** What can be defined: an element whose hooks and sheets are as they have to be. */
export interface ElementConstructor {
  new (): HTMLElement & Hooks;
  /** The sheets of the element's root; its parents' come first by themselves. */
  readonly styleSheets?: StyleSource | readonly StyleSource[];
}

/** The statics of an element class. */
export interface ElementStatics {
  readonly observedAttributes: string[];
  readonly formAssociated: boolean;
  /**
   * Registers the class. Twice is silent.
   * @throws DOMException NotSupportedError if another class has the tag.
   */
  define<C extends ElementConstructor>(this: C, tag?: string, registry?: CustomElementRegistry): C;
}
