import type { FormValue, ValidityProblem } from './form.ts';
import type { Scope } from './scope.ts';
import type { SlottedOptions } from './slots.ts';
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

/** `emit` for declared events: the detail may be omitted where it is null or may be undefined. */
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

/** What every element made with Eltrix has beside what it declares. Only a type: `contract()` makes the class. */
export declare abstract class ElementBase extends HTMLElement {
  /** The element's own ElementInternals: roles, states, form. */
  protected readonly internals: ElementInternals;
  /** The custom states, matched by `:state(name)`. */
  readonly states: CustomStateSet;
  /** The elements that the page put into a slot (`''`, the default, is the default slot); a tracked reading. */
  slotted(name?: string, options?: SlottedOptions): Element[];
  /** Whether the page put an element, or text in the default slot, into a slot; a tracked reading. White space does not count. */
  isFilled(name?: string): boolean;
  connectedCallback(): void;
  disconnectedCallback(): void;
  adoptedCallback(from: Document, to: Document): void;
  attributeChangedCallback(name: string, before: string | null, after: string | null, namespace: string | null): void;
}

/** What a form-associated element has beside that (HTML §4.10.18.5 and §4.10.21.3). */
export interface FormMembers {
  readonly form: HTMLFormElement | null;
  readonly labels: NodeList;
  readonly validity: ValidityState;
  readonly validationMessage: string;
  readonly willValidate: boolean;
  checkValidity(): boolean;
  reportValidity(): boolean;
}

/** The methods that an element may have; the library calls them. `define()` checks that they fit. */
export interface Hooks {
  /** Once an instance, at its first connection, synchronously; live expressions keep it current afterwards. */
  view?(): unknown;
  /** Once, when the tree stands: handles point at their elements. */
  assembled?(): void;
  /** Each time it is put into a document; everything taken through `scope` is released when it is disconnected. */
  connected?(scope: Scope): void;
  disconnected?(): void;
  /** A move that keeps state (DOM §4.2.6). An element without it is disconnected and connected. */
  moved?(): void;
  adopted?(from: Document, to: Document): void;
  /** With the attribute's own name, when the property already has the new value. */
  attributeChanged?(name: string, before: string | null, after: string | null): void;
  /**
   * A declared property has another value than before; from the first connection on, as soon as it has changed. For `live`
   * properties when they are assigned, not for changes inside; not for `tokens`.
   */
  propertyChanged?(name: string, before: unknown, after: unknown): void;
  formAssociated?(form: HTMLFormElement | null): void;
  formDisabled?(disabled: boolean): void;
  formReset?(): void;
  formStateRestore?(state: FormValue, reason: 'restore' | 'autocomplete'): void;
  /** What is submitted under the element's `name`. Tracked; a change shows in `new FormData(form)` at once. */
  formValue?(): FormValue;
  /** What is wrong, or null. Tracked; a change shows in `checkValidity()` at once. */
  validate?(): ValidityProblem | null | undefined;
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
