import { asciiLowerCase } from '../contract/convert.ts';
import type {
  Checked,
  Declaration,
  DetailsOf,
  Kind,
  PropertiesOf,
  PropertyDeclaration,
  TagName,
} from '../contract/index.ts';
import { kebabCase, tagProblem } from '../contract/names.ts';
import { baseFor } from './base.ts';
import { define } from './define.ts';
import { formMembers } from './form.ts';
import { mistake, withProblem } from './messages.ts';
import { type Contract, contractKey, type Member } from './plan.ts';
import { accessorOf, coreKey, type HasCore } from './reflect.ts';
import { refuseShadowing } from './shadowing.ts';
import type { ElementBase, ElementStatics, Emits, FormMembers, Listeners } from './types.ts';

/** The instance type of an element with a declaration. */
export type ElementOf<D extends Declaration> = Listeners<DetailsOf<D>> & ElementBase & Added<D>;

/** What a declaration adds to an element, beside its listeners. */
type Added<D extends Declaration> = Emits<DetailsOf<D>> &
  PropertiesOf<D> &
  (D['form'] extends true ? FormMembers : unknown);

/** What `contract()` returns. */
export type ContractClass<Instance> = ElementStatics & (new () => Instance);

/**
 * The base class of an element, made from what it declares.
 *
 * @param tag the element's tag: a valid custom element name (HTML §4.13.3).
 * @param declaration its public surface.
 * @param Parent an element class whose contract this one adds to.
 * @throws DOMException SyntaxError for a tag that cannot be; TypeError for a declaration that cannot work.
 * @example class HiveCard extends contract('hive-card', { attributes: { name: text() } }) {}
 */
export function contract<const Tag extends string, D extends Declaration>(
  tag: Tag & TagName<Tag>,
  declaration: D & Checked<D>,
): ContractClass<ElementOf<D>>;
export function contract<
  const Tag extends string,
  D extends Declaration,
  P extends ElementStatics & (new () => HTMLElement),
>(
  tag: Tag & TagName<Tag>,
  declaration: D & Checked<D>,
  Parent: P,
): ContractClass<Listeners<DetailsOf<D>> & InstanceType<P> & Added<D>> & Omit<P, 'prototype' | keyof ElementStatics>;
export function contract(tag: string, declaration: Declaration, Parent?: object): unknown {
  const problem = tagProblem(tag);
  if (problem)
    throw withProblem(new DOMException(__DEV__ ? problem.message : problem.code, 'SyntaxError'), {
      code: problem.code,
    });
  const parent = (Parent as { [contractKey]?: Contract } | undefined)?.[contractKey];
  const Base = (Parent ?? baseFor(declaration.extends)) as new () => HTMLElement;
  const members = [...(parent?.members ?? [])];
  const own: Member[] = [];
  const add = (name: string, kind: Kind<unknown> | undefined, property: PropertyDeclaration<unknown> | undefined) => {
    const attribute = kind ? asciiLowerCase(kind.attribute ?? kebabCase(name)) : undefined;
    if (__DEV__) refuseShadowing(tag, name, declaration);
    const inherited = members.findIndex(m => m.name === name);
    const other = members.find(m => m.attribute !== undefined && m.attribute === attribute && m.name !== name);
    if (other) {
      throw mistake(
        'TypeError',
        'attribute-shared',
        tag,
        `<${tag}>: "${attribute}" is already the attribute of the property "${other.name}". ` +
          `Give "${name}" another attribute name, for example ${name}: ${kind!.kind}({ attribute: '${attribute}-2' }).`,
      );
    }
    const member: Member = { name, index: inherited < 0 ? members.length : inherited, attribute, kind, property };
    if (inherited < 0) members.push(member);
    else members[inherited] = member;
    own.push(member);
  };
  for (const [name, kind] of Object.entries(declaration.attributes ?? {})) add(name, kind as Kind<unknown>, undefined);
  for (const [name, property] of Object.entries(declaration.properties ?? {}))
    add(name, undefined, property as PropertyDeclaration<unknown>);

  const Contracted = class extends Base {
    static define(givenTag?: string, registry?: CustomElementRegistry) {
      define(this as never, givenTag, registry);
      return this;
    }
  };
  Object.defineProperty(Contracted, contractKey, { value: { tag, declaration, parent, members } satisfies Contract });
  for (const member of own) {
    Object.defineProperty(Contracted.prototype, member.name, {
      ...accessorOf(member),
      enumerable: true,
      configurable: true,
    });
  }
  if (declaration.form)
    Object.defineProperties(
      Contracted.prototype,
      formMembers(element => (element as HasCore)[coreKey]),
    );
  return Contracted;
}
