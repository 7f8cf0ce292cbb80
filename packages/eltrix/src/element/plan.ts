/** What is known of an element class once, for all its instances; and of an instance, for all parts of its class. */
import type { Declaration, Kind, PropertyDeclaration, StateDeclaration } from '../contract/index.ts';
import type { Holder } from '../signals/state.ts';
import type { Binding, Owner } from '../view/template.ts';
import type { ConnectionScope } from './scope.ts';
import type { StyleSource } from './styles.ts';

/** One declared property. */
export interface Member {
  readonly name: string;
  /** Where its value stands among an instance's values. */
  readonly index: number;
  /** The attribute's name, if it has one. */
  readonly attribute: string | undefined;
  /** Whether assigning the property writes the attribute. */
  readonly reflects: boolean;
  /** For what does not reflect: it was set before the upgrade. */
  readonly takenOver?: ((core: Core) => void) | undefined;
  /** For what does not reflect: the attribute has changed, and counts more than what was assigned. */
  readonly attributeChanged?: ((core: Core) => void) | undefined;
  /** What was declared; a built widget does not have it. */
  readonly kind?: Kind<unknown> | undefined;
  readonly property?: PropertyDeclaration<unknown> | undefined;
}

/** What of a contract is bound to the element: kept by a build. */
export interface Bound {
  readonly states?: Readonly<Record<string, Pick<StateDeclaration, 'when'>>>;
  readonly semantics?: Declaration['semantics'];
}

/** A contract, joined with that of its parents. */
export interface Contract {
  readonly tag: string;
  /** The members of the whole chain, parents first. */
  members: readonly Member[];
  /** As declared, or by the nearest parent that says something. */
  shadow?: Partial<ShadowRootInit> | 'none' | undefined;
  /** The built-in tag that is extended. */
  extends?: string | undefined;
  /** What its semantics and states follow. */
  readonly bound?: Bound | undefined;
  /** In a built widget: what `fingerprint` makes of the contract. */
  readonly surface?: string;
  /** What the author wrote, and that of the parent; in a built widget only its events, if one is not sent as usual. */
  readonly declaration?: Declaration | undefined;
  parent?: Contract | undefined;
}

/** Declarations of the whole chain, nearest first: the first that says something counts. */
export function* declarations(contract: Contract): Generator<Declaration> {
  for (let c: Contract | undefined = contract; c; c = c.parent) if (c.declaration) yield c.declaration;
}

export interface Plan {
  readonly Class: { readonly prototype: object };
  readonly contract: Contract;
  readonly styleSheets: readonly StyleSource[];
  readonly parts: readonly Part[];
}

/**
 * Something to do at moments of an element's life, in this order; any of it may move or remove the element. A build gives a
 * class only those parts that its source uses, so the driver knows of none of them.
 */
export interface Part<C extends Living = Core> {
  /** One of the places in `part.ts`. */
  readonly at: number;
  /** In the constructor, before properties that were set early are taken over. */
  construct?(core: C): void;
  /** An observed attribute has changed, and the property has its new value (HTML §4.13.6). */
  attributeChanged?(core: C, member: Member, before: string | null, after: string | null): void;
  /** For the first time in a document, before the view is made. */
  prepare?(core: C): void;
  /** The view stands. */
  assemble?(core: C): void;
  /** In a document, with current values shown. */
  connect?(core: C): void;
  /** Moved without being disconnected (DOM §4.2.6, moveBefore). */
  move?(core: C): void;
  /** It belongs to another document (DOM §4.5, adopt). */
  adopt?(core: C, from: Document, to: Document): void;
  disconnect?(core: C): void;
  /** Gives the root its sheets for the document that it is in, in place of the usual way. */
  adoptSheets?(core: C): void;
  /** Gives the class and its prototype more members, once. */
  extend?(Class: { readonly prototype: object }): void;
}

/** What parts need that have nothing to do with a view. */
export interface Living {
  readonly host: HTMLElement;
  readonly plan: Plan;
  readonly shown: boolean;
  /** Whether its view has been made. */
  readonly assembled: boolean;
  /** Counts connections: what is called may remove the element and put it back. */
  readonly connections: number;
  getInternals(): ElementInternals;
  /** Properties have changed, by the bits of their keys. */
  noted?: (bits: number) => void;
  // What parts keep.
  scope?: ConnectionScope | undefined;
  /** Whether `connected` has been called for this connection, and `disconnected` has to be. */
  calledConnected?: boolean;
}

/** What the library knows of one element. */
export interface Core extends Living, Owner, Holder {
  readonly host: HTMLElement;
  /** What stands behind properties that are more than an attribute's text, by index. */
  values?: unknown[];
  root: ShadowRoot | HTMLElement | undefined;
  registry?: CustomElementRegistry | undefined;
  /** The bindings of its view. */
  readonly bindings: readonly (Binding | undefined)[];
  openRoot(init: ShadowRootInit): ShadowRoot;
  /** A property has another value. */
  wrote(index: number): void;

  /** On a server: the slots that the page fills. */
  filled?: ReadonlySet<string>;

  // What parts keep.
  light?: LightSide;
  form?: FormSide;
  slots?: SlotsSide;
}

/** The element itself as the root of its view. */
export interface LightSide {
  /** A view has made nodes for this element. */
  placed(node: Node): void;
  /** Takes what is there out of the way, before the view is put in. @param sent whether the view that is there stays. */
  begin(sent: boolean): void;
  /** The view that a server sent is connected. */
  taken?(): void;
  /** Puts what the page gave where it belongs, and listens for changes. */
  update(): void;
  /** What the page gave. */
  given(): readonly ChildNode[];
  /** What of it is for a slot. */
  assigned(name: string): Element[];
}

/** Value and validity of a form-associated element. */
export interface FormSide {
  /** Values have changed, by the bits of their keys: what was made of them is made again before this returns. */
  changed(bits: number): void;
  /** Brings both up to date. */
  refresh(): void;
}

/** What stands in its slots. */
export interface SlotsSide {
  changed(): void;
}

/** The sheets of the whole chain, parents first; a class that lists its parent's sheets itself does not double them. */
export function sheetsOf(Class: object | null): StyleSource[] {
  if (Class === null) return [];
  const own = Object.hasOwn(Class, 'styleSheets') ? [(Class as { styleSheets: StyleSource }).styleSheets].flat() : [];
  return [...sheetsOf(Object.getPrototypeOf(Class) as object | null), ...own];
}
