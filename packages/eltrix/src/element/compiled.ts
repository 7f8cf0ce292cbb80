/** The runtime of compiled contracts: members and parts, without descriptions. */
import type { Rule } from '../contract/index.ts';
import { dataProperty, keeping, liveObject, type OwnMember, reflecting } from './accessors.ts';
import { plainBase } from './base.ts';
import { liveProperty } from './live-property.ts';
import { inherit, makeClass } from './make-class.ts';
import type { Contract, Part } from './plan.ts';

/** Creates a member, given its name. */
type MemberMaker = (name: string) => OwnMember;

/** A property that reflects the attribute of the same name, or of another name. */
export const attribute =
  (rule: Rule<unknown>, attribute?: string): MemberMaker =>
  name => ({ name, attribute: attribute ?? name, reflects: true, accessor: reflecting(rule) });

/** A property with state beside the attribute: a parsed value, or a value that does not reflect. */
export const keptAttribute =
  (rule: Rule<unknown>, attribute?: string, reflects = true): MemberMaker =>
  name =>
    keeping(name, attribute ?? name, rule, reflects);

/** A property whose value is a live object that reads and writes the attribute's text. */
export const liveAttribute =
  (rule: Rule<unknown>, attribute?: string, reflects = true): MemberMaker =>
  name =>
    liveObject(name, attribute ?? name, rule, reflects);

export const data =
  (make: () => unknown): MemberMaker =>
  name => ({ name, attribute: undefined, reflects: false, accessor: dataProperty(make) });

export const live =
  (make: () => unknown): MemberMaker =>
  name => ({ name, attribute: undefined, reflects: false, accessor: liveProperty(make) });

type More = Pick<Contract, 'declaration' | 'shadow' | 'extends' | 'bound'>;

const madeOf = (members: Readonly<Record<string, MemberMaker>>) =>
  Object.keys(members).map(name => members[name]!(name));

/**
 * The base class of a compiled element.
 *
 * @param surface the result of `fingerprint` for the contract.
 * @param more the rest of the contract that is needed at run time: events with special options, `shadow`, `extends`.
 */
export function element(
  tag: string,
  surface: string,
  members: Readonly<Record<string, MemberMaker>>,
  parts: readonly Part[],
  more?: More,
): object {
  return makeClass({ tag, surface, ...more }, madeOf(members), parts, plainBase());
}

/** The same for an element that extends another element or a built-in one. */
export function elementFrom(
  Base: object,
  tag: string,
  surface: string,
  members: Readonly<Record<string, MemberMaker>>,
  parts: readonly Part[],
  more?: More,
): object {
  const contract = { tag, surface, ...more };
  return makeClass(contract, madeOf(members), parts, Base, inherit(contract, Base));
}
