/** Infers a contract from the uses of a tag, with the evidence. */
import { isAttributeName } from '../../../../eltrix/src/contract/names.ts';
import { ownerOf } from '../../../../eltrix/src/element/shadowing.ts';
import { isGlobal, platformEvents } from '../html-names.ts';
import { isOwnHandler, type SlotUse, type Use } from './usage.ts';

export type InferredKind = 'flag' | 'integer' | 'decimal' | 'choice' | 'json' | 'url' | 'text';

export interface InferredAttribute {
  readonly attribute: string;
  readonly property: string;
  readonly kind: InferredKind;
  /** The keywords of a choice, in order of appearance. */
  readonly values: readonly string[];
  /** The number of uses with it. */
  readonly count: number;
  /** The evidence, shortened. */
  readonly seen: string;
}

export interface InferredSlot {
  readonly name: string;
  readonly count: number;
  /** Selectors, if the slot only contains such elements. */
  readonly accepts: string | undefined;
  readonly seen: string;
}

export interface InferredEvent {
  readonly type: string;
  readonly count: number;
}

export interface InferredElement {
  readonly tag: string;
  readonly uses: readonly Use[];
  readonly attributes: readonly InferredAttribute[];
  /** Names that an HTML parser accepts, and no script can give to an attribute in every engine. */
  readonly unusable: readonly string[];
  readonly slots: readonly InferredSlot[];
  readonly events: readonly InferredEvent[];
  /** The custom elements around it. */
  readonly within: readonly string[];
}

export function inferElement(tag: string, uses: readonly Use[]): InferredElement {
  const names = new Set(uses.flatMap(({ attributes }) => [...attributes.keys()]));
  const events = [...names].filter(name => isEvent(name, uses));
  const isOwn = (name: string) => !events.includes(name) && !platformEvents.has(name.replace(/^on/, ''));
  const own = [...names].filter(name => (/^on/.test(name) ? isOwn(name) : !isGlobal(name)));
  const sent = events.map(name => ({
    type: name.slice(2),
    count: uses.filter(use => use.attributes.has(name)).length,
  }));
  const usable: InferredAttribute[] = [];
  for (const name of own) if (isAttributeName(name)) usable.push(inferAttribute(name, uses, usable));
  const slots = new Set(uses.flatMap(use => [...use.slots.keys()]));
  return {
    tag,
    uses,
    attributes: usable,
    unusable: own.filter(name => !isAttributeName(name)),
    slots: [...slots].sort().map(name => inferSlot(name, uses)),
    events: sent,
    within: [...new Set(uses.flatMap(({ within }) => within ?? []))],
  };
}

function isEvent(name: string, uses: readonly Use[]): boolean {
  return uses.some(({ attributes }) => attributes.has(name) && isOwnHandler(name, attributes.get(name)!));
}

/** A property name that no member of elements and no other property has: `queen-age` becomes `queenAge`. */
function propertyFor(attribute: string, others: readonly InferredAttribute[]): string {
  const words = attribute.split(/[^\p{ID_Continue}]+|_+/u).filter(Boolean);
  const joined = words
    .map((word, at) => (at === 0 ? word : word.replace(/^./u, letter => letter.toUpperCase())))
    .join('');
  const name = /^\p{ID_Start}/u.test(joined) ? joined : `value${joined}`;
  const isFree = (name: string) =>
    ownerOf(name, true) === undefined && others.every(({ property }) => property !== name);
  for (let at = 1; ; at++) {
    const free = [name, `${name}Value`, `${name}${at + 1}`].find(isFree);
    if (free !== undefined) return free;
  }
}

function inferAttribute(
  attribute: string,
  uses: readonly Use[],
  others: readonly InferredAttribute[],
): InferredAttribute {
  const values = uses.flatMap(use => use.attributes.get(attribute) ?? []);
  const distinct = [...new Set(values)];
  const kind = kindOf(attribute, values, distinct);
  return {
    attribute,
    property: propertyFor(attribute, others),
    kind,
    values: kind === 'choice' ? distinct : [],
    count: values.length,
    seen: shortened(distinct),
  };
}

function kindOf(name: string, values: readonly string[], distinct: readonly string[]): InferredKind {
  const all = (test: (value: string) => boolean) => values.every(test);
  if (all(value => value === '' || value.toLowerCase() === name || isFalseOrTrue(value))) return 'flag';
  if (all(value => /^[+-]?(?:0|[1-9]\d*)$/.test(value.trim()) && Number(value) === (Number(value) | 0)))
    return 'integer';
  // A code, whose zeros and digits count: `007`, or a long number.
  if (all(value => /^\d+$/.test(value.trim()))) return 'text';
  if (all(value => /^[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i.test(value.trim()))) return 'decimal';
  if (all(isJson)) return 'json';
  if (
    all(value => /^(?:[a-z][a-z0-9+.-]*:\/\/|\.{0,2}\/|mailto:|tel:)/i.test(value)) ||
    /^(?:href|src|url)$|-(?:href|src|url)$/.test(name)
  )
    return 'url';
  // Few, repeated words are keywords; a word that appears once may be any text.
  const words = distinct.length <= 6 && all(value => /^[a-z][a-z0-9-]*$/.test(value));
  if (words && values.length > distinct.length) return 'choice';
  return 'text';
}

/** In HTML a boolean attribute that is present is true, with any value. */
export const isFalseOrTrue = (value: string): boolean => /^(?:true|false)$/i.test(value);

function isJson(value: string): boolean {
  if (!/^\s*[[{]/.test(value)) return false;
  try {
    JSON.parse(value);
    return true;
  } catch {
    // Authors write single quotes inside a single-quoted attribute as well, which ends the value.
    return false;
  }
}

function inferSlot(name: string, uses: readonly Use[]): InferredSlot {
  const given = uses.flatMap((use): SlotUse[] => {
    const slot = use.slots.get(name);
    return slot ? [slot] : [];
  });
  const tags = [...new Set(given.flatMap(({ tags }) => tags))];
  const text = given.some(slot => slot.text);
  // Custom elements are usually put where they belong; built-in ones may be there by accident.
  const only = !text && tags.length > 0 && tags.every(tag => tag.includes('-'));
  return {
    name,
    count: given.length,
    accepts: only ? tags.map(selectorOf).join(', ') : undefined,
    seen: [...tags.map(tag => `<${tag}>`), ...(text ? ['text'] : [])].join(', '),
  };
}

/** The selector of a tag: in CSS, a dot would begin a class. */
const selectorOf = (tag: string): string => tag.replace(/[^\p{ID_Continue}-]/gu, '\\$&');

function shortened(values: readonly string[]): string {
  const shown = values.slice(0, 4).map(value => JSON.stringify(value.length > 32 ? `${value.slice(0, 31)}…` : value));
  return shown.join(', ') + (values.length > 4 ? ', …' : '');
}
