/** What is known of an element class once, for all its instances. */
import type { Declaration, Kind, PropertyDeclaration } from '../contract/index.ts';
import { coreOf } from './abilities.ts';
import { contractKey } from './contract-key.ts';
import type { Core } from './core.ts';
import type { StyleSource } from './styles.ts';

/** One declared property. */
export interface Member {
  readonly name: string;
  /** Where its state stands among an instance's cells. */
  readonly index: number;
  /** The attribute's name, if it has one. */
  readonly attribute: string | undefined;
  /** Whether assigning the property writes the attribute. */
  readonly reflects: boolean;
  /** What was declared; a built widget does not have it. */
  readonly kind?: Kind<unknown> | undefined;
  readonly property?: PropertyDeclaration<unknown> | undefined;
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
  /** In a built widget: what `fingerprint` makes of the contract. */
  readonly surface?: string;
  /** What the author wrote, and that of the parent; in a built widget only the events that are not sent as usual. */
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
  readonly Core: new (host: HTMLElement, plan: Plan) => Core;
}

const plans = new WeakMap<object, Plan>();

/** The plan of a class, made when its first instance is. */
export function planOf(Class: { readonly prototype: object; readonly [contractKey]: Contract }): Plan {
  let plan = plans.get(Class);
  if (!plan) {
    plan = { Class, contract: Class[contractKey], styleSheets: [...new Set(sheetsOf(Class))], Core: coreOf(Class) };
    plans.set(Class, plan);
  }
  return plan;
}

/** The sheets of the whole chain, parents first; a class that lists its parent's sheets itself does not double them. */
function sheetsOf(Class: object | null): StyleSource[] {
  if (Class === null) return [];
  const own = Object.hasOwn(Class, 'styleSheets') ? [(Class as { styleSheets: StyleSource }).styleSheets].flat() : [];
  return [...sheetsOf(Object.getPrototypeOf(Class) as object | null), ...own];
}
