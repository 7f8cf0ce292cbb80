/** What a build leaves of a contract: its members and what the class can do; the words for people are gone. */
import type { Rule } from '../contract/index.ts';
import { dataProperty, keeping, liveObject, type OwnMember, reflecting } from './accessors.ts';
import { plainBase } from './base.ts';
import { liveProperty } from './live-property.ts';
import { inherit, makeClass } from './make-class.ts';
import type { Contract, Part } from './plan.ts';

/** How a member is made, once its name is known. */
type MemberMaker = (name: string) => OwnMember;

/** A property that reflects the attribute of its name, or another one. */
export const attribute =
  (rule: Rule<unknown>, attribute?: string): MemberMaker =>
  name => ({ name, attribute: attribute ?? name, reflects: true, accessor: reflecting(rule) });

/** One that keeps something beside the attribute's text: a parsed value, or what does not reflect. */
export const keptAttribute =
  (rule: Rule<unknown>, attribute?: string, reflects = true): MemberMaker =>
  name =>
    keeping(name, attribute ?? name, rule, reflects);

/** One whose value is a live object over the attribute's text. */
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
 * The base class of a built element.
 *
 * @param surface what `fingerprint` makes of the contract.
 * @param more what still counts of it: events that are not sent as usual, `shadow`, `extends`.
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

/** The same for one that is made from another, or from a built-in one. */
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
