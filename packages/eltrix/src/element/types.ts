import type { FormValue, ValidityProblem } from './form.ts';
import type { Scope } from './scope.ts';
import type { SlottedOptions } from './slots.ts';
import type { StyleSheets } from './styles.ts';

/** `addEventListener` for declared events; declared before HTMLElement's. */
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

/** `emit` for declared events: the detail may be omitted if its type allows null or undefined. */
export interface Emits<Details> {
  /** Dispatches a declared event. Returns false if a listener cancelled it. @throws TypeError if it is not declared. */
  emit<Type extends keyof Details & string>(
    type: Type,
    ...detail: null extends Details[Type]
      ? [detail?: Details[Type]]
      : undefined extends Details[Type]
        ? [detail?: Details[Type]]
        : [detail: Details[Type]]
  ): boolean;
}

/**
 * The members of every element made with Eltrix, besides the declared ones. A type only: `contract()` creates the
 * class.
 */
export declare abstract class ElementBase extends HTMLElement {
  /** The element's ElementInternals: roles, states, form. */
  protected readonly internals: ElementInternals;
  /** The custom states, matched by `:state(name)`. */
  readonly states: CustomStateSet;
  /** The elements in a slot (`''` is the default slot). A tracked reading. */
  slotted(name?: string, options?: SlottedOptions): Element[];
  /**
   * Whether a slot has elements, or text in case of the default slot. A tracked reading. White space does not count.
   */
  isFilled(name?: string): boolean;
  connectedCallback(): void;
  disconnectedCallback(): void;
  adoptedCallback(from: Document, to: Document): void;
  attributeChangedCallback(name: string, before: string | null, after: string | null, namespace?: string | null): void;
}

/** Further members of a form-associated element (HTML §4.10.18.5 and §4.10.21.3). */
export interface FormMembers {
  readonly form: HTMLFormElement | null;
  readonly labels: NodeList;
  readonly validity: ValidityState;
  readonly validationMessage: string;
  readonly willValidate: boolean;
  checkValidity(): boolean;
  reportValidity(): boolean;
}

/** The methods that the library calls if an element has them. `define()` checks their types. */
export interface Hooks {
  /** Creates the view: called once, synchronously, at the first connection. Live expressions update it afterwards. */
  view?(): unknown;
  /** Called once, when the view exists and handles refer to their elements. */
  assembled?(): void;
  /** Called after each connection to a document. Resources taken through `scope` are released at disconnection. */
  connected?(scope: Scope): void;
  disconnected?(): void;
  /**
   * Called after a move that keeps state (DOM §4.2.6), between `connected` and `disconnected`. An element without it is
   * disconnected and connected instead.
   */
  moved?(): void;
  adopted?(from: Document, to: Document): void;
  /** Called with the attribute's name, when the property has the new value. */
  attributeChanged?(name: string, before: string | null, after: string | null): void;
  /**
   * Called when a declared property has a new value, from the first connection on. For `live` properties when they are
   * assigned, not for changes inside; not for `tokens`.
   */
  propertyChanged?(name: string, before: unknown, after: unknown): void;
  formAssociated?(form: HTMLFormElement | null): void;
  formDisabled?(disabled: boolean): void;
  formReset?(): void;
  formStateRestore?(state: FormValue, reason: 'restore' | 'autocomplete'): void;
  /**
   * The value submitted under the element's `name`. Tracked: after a change `new FormData(form)` has the new value at
   * once.
   */
  formValue?(): FormValue;
  /** The validation error, or null. Tracked: after a change `checkValidity()` has the new result at once. */
  validate?(): ValidityProblem | null | undefined;
}

/** Classes that can be defined: hooks and style sheets have the right types. */
export interface ElementConstructor {
  new (): HTMLElement & Hooks;
  /** The style sheets of the element's root, after those of its parents. */
  readonly styleSheets?: StyleSheets;
}

/** The static members of an element class. */
export interface ElementStatics {
  readonly observedAttributes: string[];
  readonly formAssociated: boolean;
  /**
   * Registers the class. A second call does nothing.
   * @throws DOMException NotSupportedError if another class has the tag.
   */
  define<C extends ElementConstructor>(this: C, tag?: string, registry?: CustomElementRegistry): C;
}
