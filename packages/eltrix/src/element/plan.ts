/** The plan of an element class, shared by its instances, and the core of an instance, shared by its parts. */
import type { Declaration, Kind, PropertyDeclaration, StateDeclaration } from '../contract/index.ts';
import type { Holder, Home } from '../signals/state.ts';
import type { Binding, Owner } from '../view/template.ts';
import type { ConnectionScope } from './scope.ts';
import type { StyleSource } from './styles.ts';

/** A declared property. */
export interface Member {
  readonly name: string;
  /** The index of its value in `Core.values`. */
  readonly index: number;
  /** The attribute's name, if it has one. */
  readonly attribute: string | undefined;
  /** Whether assigning the property sets the attribute. */
  readonly reflects: boolean;
  /** For a property that does not reflect: it was set before the upgrade. */
  readonly takenOver?: ((core: Core) => void) | undefined;
  /** For a property that does not reflect: the attribute has changed, and replaces the assigned value. */
  readonly attributeChanged?: ((core: Core) => void) | undefined;
  /** The declared kind; built elements do not have it. */
  readonly kind?: Kind<unknown> | undefined;
  readonly property?: PropertyDeclaration<unknown> | undefined;
}

/** The parts of a contract that are kept up to date on the element; builds keep them. */
export interface Bound {
  readonly states?: Readonly<Record<string, Pick<StateDeclaration, 'when'>>>;
  readonly semantics?: Declaration['semantics'];
}

/** A contract, joined with that of its parents. */
export interface Contract {
  readonly tag: string;
  /** The members of the whole chain, parents first. */
  members: readonly Member[];
  /** As declared by the nearest class that declares it. */
  shadow?: Partial<ShadowRootInit> | 'none' | undefined;
  /** The built-in tag that is extended. */
  extends?: string | undefined;
  /** Semantics and states with conditions. */
  readonly bound?: Bound | undefined;
  /** In a built element: the result of `fingerprint`. */
  readonly surface?: string;
  /** The author's declaration. A built element has only its events, and only if one has special options. */
  readonly declaration?: Declaration | undefined;
  parent?: Contract | undefined;
}

/** The declarations of the whole chain, nearest first: the first one that declares something counts. */
export function* declarations(contract: Contract): Generator<Declaration> {
  for (let c: Contract | undefined = contract; c; c = c.parent) if (c.declaration) yield c.declaration;
}

/** A prototype with hooks. */
export type Methods = Record<string, (this: object, ...args: unknown[]) => void>;

export interface Plan {
  readonly Class: { readonly prototype: object };
  readonly contract: Contract;
  readonly styleSheets: readonly StyleSource[];
  readonly parts: readonly Part[];
  /** The prototypes that have a hook, by its name. */
  hooks?: Record<string, readonly Methods[]>;
}

/**
 * Code that runs at moments of an element's life, in this order. Each call may move or remove the element. A build
 * gives a class only the parts that its source uses, so the driver imports none of them.
 */
export interface Part<C extends Living = Core> {
  /** One of the positions in `part.ts`. */
  readonly at: number;
  /** Whether it gives the element its root: a class has one such part, its own or that of its parent. */
  readonly isRoot?: true;
  /** In the constructor, before properties that were set early are assigned. */
  construct?(core: C): void;
  /** An observed attribute has changed, and the property has its new value (HTML §4.13.6). */
  attributeChanged?(core: C, member: Member, before: string | null, after: string | null): void;
  /** Before the view is created, at the first connection. */
  prepare?(core: C): void;
  /** The view was created. */
  assemble?(core: C): void;
  /** Connected, with current values shown. */
  connect?(core: C): void;
  /** Moved without being disconnected (DOM §4.2.6, moveBefore). */
  move?(core: C): void;
  /** Adopted by another document (DOM §4.5, adopt). */
  adopt?(core: C, from: Document, to: Document): void;
  disconnect?(core: C): void;
  /** Gives the root its style sheets for its document, instead of the usual way. */
  adoptSheets?(core: C): void;
  /** Adds members to the class and its prototype, once. */
  extend?(Class: { readonly prototype: object }): void;
}

/** What calling a hook needs to know of an element. */
export interface Hooked {
  readonly host: HTMLElement;
  readonly plan: Pick<Plan, 'Class' | 'contract' | 'hooks'>;
  /**
   * Reflecting properties that were set before the upgrade, by their attributes that have had no callback yet: whether
   * the platform has queued one.
   */
  early?: Map<string, boolean>;
}

/** The core of an element, for parts that do not touch the view. */
export interface Living extends Hooked, Home {
  readonly plan: Plan;
  readonly shown: boolean;
  /** Whether its view was created. */
  readonly assembled: boolean;
  /** Counts connections, since a call may disconnect and reconnect the element. */
  readonly connections: number;
  getInternals(): ElementInternals;
  /** Properties have changed, by the bits of their keys. */
  noted?: (bits: number) => void;
  // State of parts.
  form?: FormSide;
  scope?: ConnectionScope | undefined;
  /** Whether `connected` was called for this connection, so that `disconnected` has to be called. */
  calledConnected?: boolean;
}

/** The core of an element. */
export interface Core extends Living, Owner, Holder {
  readonly host: HTMLElement;
  /** The state of properties that are more than an attribute's text, by index. */
  values?: unknown[];
  root: ShadowRoot | HTMLElement | undefined;
  registry?: CustomElementRegistry | undefined;
  /** The bindings of its view. */
  readonly bindings: readonly (Binding | undefined)[];
  openRoot(init: ShadowRootInit): ShadowRoot;
  /** Makes the view again. */
  remake(): void;
  /** A property has another value. */
  wrote(index: number): void;

  /** On a server: the slots that have content. */
  filled?: ReadonlySet<string>;

  // State of parts.
  light?: LightSide;
  slots?: SlotsSide;
}

/** The element as the root of its view. */
export interface LightSide {
  /** A view has created nodes for this element. */
  placed(node: Node): void;
  /**
   * Removes the content before the view is inserted.
   * @param sent whether a sent view stays.
   */
  begin(sent: boolean): void;
  /** The sent view was adopted. */
  taken?(): void;
  /** Puts content into its slots, and listens for changes. */
  update(): void;
  /** The element's content. */
  given(): readonly ChildNode[];
  /** The content of a slot. */
  assigned(name: string): Element[];
}

/** Value and validity of a form-associated element. */
export interface FormSide {
  /** Values have changed, by the bits of their keys: updates value and validity before it returns. */
  changed(bits: number): void;
  /** Updates both. */
  refresh(): void;
}

/** The content of the slots. */
export interface SlotsSide {
  changed(): void;
  /** The element was moved or disconnected. */
  left(): void;
}

/** The style sheets of the whole chain, parents first, each once. */
export function sheetsOf(Class: object | null): StyleSource[] {
  if (Class === null) return [];
  const own = Object.hasOwn(Class, 'styleSheets') ? [(Class as { styleSheets: unknown }).styleSheets] : [];
  return [...sheetsOf(Object.getPrototypeOf(Class) as object | null), ...(own.flat(Infinity) as StyleSource[])];
}
