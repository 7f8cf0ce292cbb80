/** What is known of an element for people and tools, as data. */

export interface TypeDeclaration {
  readonly name: string;
  /** The declaration, exported. */
  readonly code: string;
}

export interface PropertyDescription {
  readonly name: string;
  /** Undefined for a property without one. */
  readonly attribute: string | undefined;
  /** The kind's name, `data` or `live`. */
  readonly kind: string;
  /** As TypeScript writes it. */
  readonly type: string;
  readonly about: string | undefined;
  readonly deprecated?: string | undefined;
  /** As JSON or a word for people; undefined if there is none. */
  readonly default: string | undefined;
  readonly reflects: boolean;
  /** The words of a choice, and the tokens that `supports` knows. */
  readonly values: readonly string[];
  /** Other words of a choice. */
  readonly aliases: readonly string[];
  readonly range: readonly [min: number, max: number] | undefined;
}

export interface ParameterDescription {
  readonly name: string;
  readonly type: string;
  readonly optional: boolean;
  readonly rest: boolean;
}

/** A public member that the class writes itself. */
export interface MethodDescription {
  readonly name: string;
  readonly about: string | undefined;
  /** `(amount: number, unit?: string)`, after the parameters of its types if it has any; empty for what is no method. */
  readonly parameters: string;
  /** The parameters one by one, of a method. */
  readonly list?: readonly ParameterDescription[];
  /** What a method returns, or the type of its value. */
  readonly returns: string;
  /** A method; a field or accessors that read and write; what can only be read. */
  readonly kind: 'method' | 'field' | 'reads';
  readonly isStatic: boolean;
}

export interface EventDescription {
  readonly type: string;
  readonly detail: string;
  readonly about: string | undefined;
  readonly deprecated?: string | undefined;
  readonly bubbles: boolean;
  readonly composed: boolean;
  readonly cancelable: boolean;
}

export interface SlotDescription {
  readonly name: string;
  readonly about: string;
  readonly deprecated?: string | undefined;
  readonly accepts: string | undefined;
  readonly required: boolean;
}

export interface Named {
  readonly name: string;
  readonly about: string;
}

export interface ElementDescription {
  readonly tag: string;
  readonly className: string;
  /** The source, from the project's folder. */
  readonly file: string;
  readonly about: string | undefined;
  /** What to use in its place. */
  readonly deprecated?: string | undefined;
  /** Rules of the conformance check from which it is exempt, and why. */
  readonly exempt?: Readonly<Record<string, string>>;
  /** False for one that a server leaves to the browser. */
  readonly render?: boolean | undefined;
  readonly form: boolean;
  readonly extends: string | undefined;
  readonly shadow: 'open' | 'closed' | 'none';
  /** Whether a script says what stands in its slots (`slotAssignment: 'manual'`). */
  readonly assigns?: boolean;
  readonly properties: readonly PropertyDescription[];
  readonly methods: readonly MethodDescription[];
  readonly events: readonly EventDescription[];
  readonly slots: readonly SlotDescription[];
  readonly parts: readonly Named[];
  readonly cssProperties: readonly Named[];
  readonly states: readonly Named[];
  /** Role and ARIA values that count unless a page states others. */
  readonly semantics?: readonly Named[];
  /** Types that the others name. */
  readonly types: readonly TypeDeclaration[];
}
