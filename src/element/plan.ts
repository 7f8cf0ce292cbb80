/** What is known of an element class once, for all its instances. */
import type { Declaration, Kind, PropertyDeclaration } from '../contract/index.ts';
import { type Abilities, abilitiesOf } from './abilities.ts';
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

/** A contract with that of its parents, as data. */
export interface Contract {
  readonly tag: string;
  readonly declaration: Declaration;
  readonly parent: Contract | undefined;
  /** The members of the whole chain, parents first. */
  readonly members: readonly Member[];
  /** In a built widget: what `fingerprint` makes of the contract. */
  readonly surface?: string;
}

/** How a page recognises a contract class, also one that another copy of this module made. */
export const contractKey: unique symbol = Symbol.for('eltrix.contract.1') as never;

const hookNames = [
  'assembled',
  'connected',
  'disconnected',
  'moved',
  'adopted',
  'attributeChanged',
  'formAssociated',
  'formDisabled',
  'formReset',
  'formStateRestore',
] as const;
export type HookName = (typeof hookNames)[number];

/** Declarations of the whole chain, nearest first: the first that says something counts. */
export function* declarations(contract: Contract): Generator<Declaration> {
  for (let c: Contract | undefined = contract; c; c = c.parent) yield c.declaration;
}

export class Plan {
  readonly contract: Contract;
  readonly members: readonly Member[];
  readonly byAttribute: ReadonlyMap<string, Member>;
  readonly shadow: Partial<ShadowRootInit> | 'none';
  readonly form: boolean;
  /** The built-in tag that is extended, if any. */
  readonly extended: string | undefined;
  readonly styleSheets: readonly StyleSource[];
  readonly abilities: Abilities;
  /** For each hook the prototypes that have it, parents first. */
  readonly hooks: Readonly<Record<HookName, readonly object[]>>;

  constructor(
    readonly Class: { readonly prototype: object } & Record<symbol, Contract>,
    base: object,
  ) {
    const contract = Class[contractKey as symbol]!;
    this.contract = contract;
    this.abilities = abilitiesOf(Class);
    this.members = contract.members;
    this.byAttribute = new Map(contract.members.filter(m => m.attribute !== undefined).map(m => [m.attribute!, m]));
    const chain = [...declarations(contract)];
    this.extended = chain.find(d => d.extends !== undefined)?.extends;
    this.shadow = this.extended !== undefined ? 'none' : (chain.find(d => d.shadow !== undefined)?.shadow ?? {});
    this.form = chain.some(d => d.form === true);
    this.styleSheets = sheetsOf(Class);
    const hooks = Object.fromEntries(hookNames.map(name => [name, []])) as unknown as Record<HookName, object[]>;
    for (let p: object | null = Class.prototype; p && p !== base; p = Object.getPrototypeOf(p) as object | null) {
      for (const name of hookNames) if (Object.hasOwn(p, name)) hooks[name].unshift(p);
    }
    this.hooks = hooks;
  }
}

/** The sheets of the whole chain, parents first; a class that lists its parent's sheets itself does not double them. */
function sheetsOf(Class: object): StyleSource[] {
  const sheets: StyleSource[] = [];
  for (let c: object | null = Class; c; c = Object.getPrototypeOf(c) as object | null) {
    if (!Object.hasOwn(c, 'styleSheets')) continue;
    const own = (c as { styleSheets: StyleSource | readonly StyleSource[] }).styleSheets;
    sheets.unshift(...(Array.isArray(own) ? (own as StyleSource[]) : [own as StyleSource]));
  }
  return [...new Set(sheets)];
}
