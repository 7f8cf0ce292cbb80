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
import { dataProperty, keeping, liveObject, type OwnMember, reflecting } from './accessors.ts';
import { attributePart } from './attribute-hook.ts';
import { refuseAttributeName } from './attribute-name.ts';
import { builtInBase, plainBase } from './base.ts';
import { boundOf, boundPart } from './bound.ts';
import { contractKey } from './contract-key.ts';
import { fingerprint } from './fingerprint.ts';
import { formPart } from './form.ts';
import { hooksPart, scopePart } from './hooks.ts';
import { lightPart } from './light.ts';
import { liveProperty } from './live-property.ts';
import { inherit, makeClass } from './make-class.ts';
import { emitPart, internalsPart, movePart, statesPart } from './members.ts';
import { mistake, withProblem } from './messages.ts';
import { refuseOddDeclaration } from './odd-declaration.ts';
import type { Contract } from './plan.ts';
import { propertyPart } from './property-hook.ts';
import { rootPart } from './root.ts';
import { scopeEffectPart, scopeMeasurePart } from './scope-effects.ts';
import {
  scopeAfterPart,
  scopeEveryPart,
  scopeFramePart,
  scopeOnPart,
  scopeSignalPart,
  scopeUsePart,
} from './scope-members.ts';
import { refuseShadowing } from './shadowing.ts';
import { sheetsPart } from './sheets.ts';
import { slotsPart } from './slots.ts';
import type { ElementBase, ElementStatics, Emits, FormMembers, Listeners } from './types.ts';

/** The instance type of an element with a declaration, and of the elements that extend it. */
export type ElementOf<D extends Declaration, Parent = ElementBase> = Listeners<DetailsOf<D>> & Parent & Added<D>;

/** What a declaration adds to an element, besides its listeners. */
type Added<D extends Declaration> = Emits<DetailsOf<D>> &
  PropertiesOf<D> &
  (D['extends'] extends keyof HTMLElementTagNameMap ? HTMLElementTagNameMap[D['extends']] : unknown) &
  (D['form'] extends true ? FormMembers : unknown);

/** The return type of `contract()`. */
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
): ContractClass<ElementOf<D, InstanceType<P>>> & Omit<P, 'prototype' | keyof ElementStatics>;
export function contract(tag: string, declaration: Declaration, Parent?: object): unknown {
  const problem = tagProblem(tag);
  if (problem)
    throw withProblem(new DOMException(__DEV__ ? problem.message : problem.code, 'SyntaxError'), {
      code: problem.code,
    });
  if (__DEV__) refuseOddDeclaration(tag, declaration);
  const parent = (Parent as { [contractKey]?: Contract } | undefined)?.[contractKey];
  const own: OwnMember[] = [];
  const add = (name: string, kind: Kind<unknown> | undefined, property: PropertyDeclaration<unknown> | undefined) => {
    const attribute = kind ? asciiLowerCase(kind.attribute ?? kebabCase(name)) : undefined;
    if (__DEV__) {
      refuseShadowing(tag, name, declaration);
      if (kind && kind.reflect !== false) refuseAttributeName(tag, name, attribute!, kind);
    }
    const members = [...(parent?.members ?? []), ...own];
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
    own.push({ ...ownMember(name, attribute!, kind, property), kind, property });
  };
  const twice = Object.keys(declaration.properties ?? {}).find(name =>
    Object.hasOwn(declaration.attributes ?? {}, name),
  );
  if (__DEV__ && twice !== undefined)
    throw mistake(
      'TypeError',
      'name-twice',
      tag,
      `<${tag}>: "${twice}" is declared in attributes and in properties. Remove one of the declarations.`,
    );
  for (const [name, kind] of Object.entries(declaration.attributes ?? {})) add(name, kind as Kind<unknown>, undefined);
  for (const [name, property] of Object.entries(declaration.properties ?? {}))
    add(name, undefined, property as PropertyDeclaration<unknown>);
  const { shadow, extends: extended } = declaration;
  const light = extended !== undefined || shadow === 'none';
  const saysRoot = light || shadow !== undefined || parent === undefined;
  const made = {
    tag,
    declaration,
    shadow: light ? ('none' as const) : shadow,
    extends: extended,
    bound: boundOf(declaration),
    get surface() {
      return fingerprint(tag, declaration, own);
    },
  };
  const Base = Parent ?? (extended === undefined ? plainBase() : builtInBase(extended));
  const parts = [
    ...everything,
    ...(saysRoot ? [light ? lightPart : rootPart] : []),
    ...(declaration.form ? [formPart] : []),
  ];
  return makeClass(made, own, parts, Base, inherit(made, Base));
}

/** The parts of every element that is not built; a build includes only the used ones. */
const everything = [
  sheetsPart,
  emitPart,
  internalsPart,
  statesPart,
  boundPart,
  slotsPart,
  movePart,
  attributePart,
  scopePart,
  scopeSignalPart,
  scopeOnPart,
  scopeEveryPart,
  scopeAfterPart,
  scopeFramePart,
  scopeUsePart,
  scopeEffectPart,
  scopeMeasurePart,
  hooksPart,
  propertyPart,
];

/** The member of a declared property, by its kind. */
function ownMember(
  name: string,
  attribute: string,
  kind: Kind<unknown> | undefined,
  property: PropertyDeclaration<unknown> | undefined,
): OwnMember {
  if (kind === undefined) {
    const { kind, make } = property!;
    const accessor = (kind === 'live' ? liveProperty : dataProperty)(make);
    return { name, attribute: undefined, reflects: false, accessor };
  }
  const reflects = kind.reflect !== false;
  if (kind.live) return liveObject(name, attribute, kind, reflects);
  if (kind.remembers || !reflects) return keeping(name, attribute, kind, reflects);
  return { name, attribute, reflects, accessor: reflecting(kind) };
}
