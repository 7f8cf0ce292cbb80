/** The description of an element, as data for people and tools. */

export interface TypeDeclaration {
  /** Empty for an import. */
  readonly name: string;
  readonly code: string;
  /** The place of a class that may be an element with its own file of declarations. */
  readonly element?: { readonly file: string; readonly exportName: string };
}

export interface PropertyDescription {
  readonly name: string;
  /** Undefined for a property without an attribute. */
  readonly attribute: string | undefined;
  /** The kind's name, `data` or `live`. */
  readonly kind: string;
  /** As a TypeScript type. */
  readonly type: string;
  readonly about: string | undefined;
  readonly deprecated?: string | undefined;
  /** As JSON or in words; undefined if there is none. */
  readonly default: string | undefined;
  readonly reflects: boolean;
  /** The keywords of a choice, and the supported tokens. */
  readonly values: readonly string[];
  /** The aliases of a choice. */
  readonly aliases: readonly string[];
  readonly range: readonly [min: number, max: number] | undefined;
}

export interface ParameterDescription {
  readonly name: string;
  readonly type: string;
  readonly optional: boolean;
  readonly rest: boolean;
}

/** A public member that the class declares itself. */
export interface MethodDescription {
  readonly name: string;
  readonly about: string | undefined;
  /** The whole comment, if it says more. */
  readonly comment?: string;
  /** `(amount: number, unit?: string)`, after its type parameters; empty for members other than methods. */
  readonly parameters: string;
  /** The parameters of a method. */
  readonly list?: readonly ParameterDescription[];
  /** The return type of a method, or the type of a value. */
  readonly returns: string;
  /** The type that a setter takes, if that is another one. */
  readonly accepts?: string;
  /** A method; a readable and writable field or accessor; a read-only one. */
  readonly kind: 'method' | 'field' | 'reads';
  readonly isStatic: boolean;
}

/** Whether a member is called; fields and accessors are listed with the properties. */
export const isCalled = ({ kind }: MethodDescription) => kind === 'method';

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
  /** The source, relative to the project's folder. */
  readonly file: string;
  readonly about: string | undefined;
  /** The replacement. */
  readonly deprecated?: string | undefined;
  /** Rules of the conformance check from which it is exempt, with reasons. */
  readonly exempt?: Readonly<Record<string, string>>;
  /** False for an element that a server leaves to the browser. */
  readonly render?: boolean | undefined;
  readonly form: boolean;
  readonly extends: string | undefined;
  readonly shadow: 'open' | 'closed' | 'none';
  /** Whether a script assigns its slots (`slotAssignment: 'manual'`). */
  readonly assigns?: boolean;
  readonly properties: readonly PropertyDescription[];
  readonly methods: readonly MethodDescription[];
  readonly events: readonly EventDescription[];
  readonly slots: readonly SlotDescription[];
  readonly parts: readonly Named[];
  readonly cssProperties: readonly Named[];
  readonly states: readonly Named[];
  /** Default role and ARIA values. */
  readonly semantics?: readonly Named[];
  /** Types that the other types refer to. */
  readonly types: readonly TypeDeclaration[];
}
