import { kindOf } from '../signals/kind-of.ts';
import { isSignal } from '../signals/readable.ts';
import type { Member } from '../signals/state.ts';
import { currentPlace, Expression, type Show } from './expression.ts';
import { keepValue } from './late-value.ts';
import { RecordListening } from './listener.ts';
import { nearest } from './nearest.ts';
import { lastProperty } from './order.ts';
import { danger, isGuarded, refusal, steady, vetted } from './safety.ts';
import { isSentText, nextSent, takeField } from './taking-over.ts';
import type { Binder, Binding, Owner } from './template.ts';
import { warnUnread } from './unread-signal.ts';
import { warnOnce } from './warn-once.ts';
import { whereIs } from './whereabouts.ts';

/** Marks values that attach to an element (`handle`, `on`, `sync`), across copies of this module. */
export const attach: unique symbol = Symbol.for('eltrix.attach.1') as never;

/** A value among an element's attributes that attaches to the element. */
export interface Attachable {
  /** @param present the attachment of the previous value; it may be updated and returned. */
  [attach](element: Element, owner: Owner, present?: Attached): Attached;
}

/** The attachment of such a value to one element. */
export interface Attached {
  /** As in `Binding`, if it has dependencies. */
  mark?(stale: number, due: Member[]): void;
  /** Detaches it. The element may stay and get another value. */
  dispose(): void;
}

const attaches = (value: unknown): value is Attachable =>
  typeof value === 'object' && value !== null && attach in value;

/** A function that is the value of a property, not a live expression. */
export class Fixed {
  constructor(readonly value: unknown) {}
}

/**
 * Passes a function as a plain property value.
 * @example markup`<hive-list ${{ compare: fixed(byName) }}></hive-list>`
 */
// biome-ignore lint/complexity/noBannedTypes: any function at all.
export function fixed(value: Function): object {
  return new Fixed(value);
}

const guards = new Map<string, boolean>();

/** The setter of a property, resolved once for a tag and name. */
function guard(tag: string, key: string): boolean {
  const both = `${tag} ${key}`;
  let guarded = guards.get(both);
  if (guarded === undefined) guards.set(both, (guarded = isGuarded(tag, key)));
  return guarded;
}

/** A function that is a property's value is wrapped by `fixed`. */
const given = (value: unknown) => (value instanceof Fixed ? value.value : value);

const showProperty: Show = (element: Record<string, unknown>, value, key, expression) => {
  if (__DEV__) checkProperty(element as unknown as Element, key, expression);
  if (__RENDERED__ && isSentText(element, key, value)) return;
  element[key] = given(value);
};

/** A field that already has the value is not set, which keeps its caret and selection. */
const showField: Show = (element: Record<string, unknown>, value, key) => {
  const write = () => {
    element[key] = given(value);
  };
  if (__RENDERED__ && nextSent()) takeField(element as unknown as Element, element[key], value, write);
  else if (typeof value !== 'string' || element[key] !== value) write();
  if (key === 'value') keepValue(element as never, value, write);
};

/** A property that can run code: each value is checked first. */
const showGuarded: Show = (element: Element, value, key, expression) => {
  const tag = element.localName;
  const taken = steady(tag, key, given(value));
  const reason = danger(tag, key, taken);
  if (reason !== undefined) throw refusal(reason, expression.home, expression.place);
  showProperty(element as never, vetted(tag, key, taken), key, expression);
};

/**
 * Development: warns of a property that the element does not have, which is usually a typing error. A custom element
 * that is not defined yet may get the property later.
 */
function checkProperty(element: Element, key: string, expression: Expression): void {
  if (key in element || !element.matches(':defined')) return;
  const names: string[] = [];
  for (const name in element) names.push(name);
  const like = nearest(key, names);
  warnOnce(
    `Warning (property-unknown): ${whereIs(expression.home, expression.place)}: <${element.localName}> has no property "${key}".${like ? ` Did you mean "${like}"?` : ' For an attribute write name="${value}".'}`,
  );
}

const isField = (key: string) => /^(?:value|checked|selected)$/.test(key);

/** The setter of a property whose name the compiler has checked. */
const unguarded = (_tag: string, key: string): Show => (isField(key) ? showField : showProperty);

/** The setters of a record whose keys are unknown. */
const byGuard = (tag: string, key: string): Show => (guard(tag, key) ? showGuarded : unguarded(tag, key));

/**
 * One property of a record whose names the compiler has seen. `assign` is a function for this property alone, so that
 * the engine can inline it.
 */
export function bindProperty(key: string, assign: (element: never, value: unknown) => void): Binder {
  const show: Show = (element, value, _name, expression) => {
    if (__DEV__) checkProperty(element, key, expression);
    if (__RENDERED__ && isSentText(element, key, value)) return;
    assign(element, given(value));
  };
  return (node, owner) => new Expression(owner, node, show, key);
}

/** The same for the value of a form field. */
export function bindFieldProperty(key: string): Binder {
  return (node, owner) => new Expression(owner, node, showField, key);
}

type ShowFor = (tag: string, key: string) => Show;

/** A record of properties: functions are live expressions, names that begin with `on` add listeners. */
class Properties {
  readonly kept = new Map<string, Expression | RecordListening>();
  #values: unknown;

  constructor(
    readonly element: Element,
    readonly owner: Owner,
    readonly showFor: ShowFor,
  ) {}

  readonly #place = currentPlace();

  show(value: unknown): void {
    if (value === this.#values) return;
    this.#values = value;
    if (value === null || value === undefined || value === false) return this.leave();
    if (typeof value !== 'object' || Array.isArray(value)) throw this.#wrong(value);
    if (__DEV__ && isSignal(value)) warnUnread(whereIs(this.owner, this.#place));
    const record = value as Record<string, unknown>;
    const last = lastProperty(this.element.localName);
    for (const key of Object.keys(record)) if (key !== last) this.#one(key, record[key]);
    if (last !== undefined && Object.hasOwn(record, last)) this.#one(last, record[last]);
    for (const [key, kept] of this.kept) {
      if (Object.hasOwn(record, key)) continue;
      end(kept);
      this.kept.delete(key);
    }
  }

  #one(key: string, value: unknown): void {
    const { element, owner } = this;
    let kept = this.kept.get(key);
    if (!kept) {
      kept = /^on./.test(key)
        ? new RecordListening(element, key.slice(2), owner)
        : new Expression(owner, element, this.showFor(element.localName, key), key);
      if (__DEV__ && kept instanceof Expression) kept.place = this.#place;
      this.kept.set(key, kept);
    }
    if (kept instanceof Expression) kept.set(value);
    else kept.update([value], 0);
  }

  #wrong(value: unknown): TypeError {
    return new TypeError(
      __DEV__
        ? `(element-hole): an expression among the attributes of <${this.element.localName}> takes a record of properties, a handle(), on() or sync(), not ${kindOf(value)}. Write <${this.element.localName} \${{ name: value }}>, or name="\${value}" for an attribute.`
        : 'element-hole',
    );
  }

  mark(stale: number, due: Member[]): void {
    for (const kept of this.kept.values()) if (kept instanceof Expression) kept.mark(stale, due);
  }

  dispose(): void {
    for (const kept of this.kept.values()) kept.dispose();
    this.kept.clear();
  }

  /** Detaches it from an element that stays. */
  leave(): void {
    for (const kept of this.kept.values()) end(kept);
    this.kept.clear();
  }
}

/** Disposes a binding of an element that stays. */
function end(kept: Expression | RecordListening): void {
  kept.dispose();
  if (kept instanceof RecordListening) kept.detach();
}

/** The binding among an element's attributes: a record of properties, an attachable value, or none. */
class AmongAttributes implements Binding {
  #properties: Properties | undefined;
  #attached: Attached | undefined;
  #value: unknown;

  constructor(
    readonly element: Element,
    readonly owner: Owner,
    readonly showFor: ShowFor,
  ) {}

  update(values: readonly unknown[], at: number): void {
    const value = values[at];
    if (value === this.#value && value !== undefined) return;
    this.#value = value;
    const present = this.#attached;
    if (attaches(value)) {
      this.#properties?.leave();
      this.#properties = undefined;
      this.#attached = value[attach](this.element, this.owner, present);
      if (present !== this.#attached) present?.dispose();
      return;
    }
    this.#attached = undefined;
    present?.dispose();
    (this.#properties ??= new Properties(this.element, this.owner, this.showFor)).show(value);
  }

  mark(stale: number, due: Member[]): void {
    this.#properties?.mark(stale, due);
    this.#attached?.mark?.(stale, due);
  }

  dispose(): void {
    this.#properties?.dispose();
    this.#attached?.dispose();
  }
}

/** An expression of which the compiler knows that it attaches: `handle()`, `on()`, `sync()`. */
class Attaching implements Binding {
  #value: Attachable | undefined;
  #attached: Attached | undefined;

  constructor(
    readonly element: Element,
    readonly owner: Owner,
  ) {}

  update(values: readonly unknown[], at: number): void {
    const value = values[at] as Attachable;
    if (value === this.#value) return;
    this.#value = value;
    const present = this.#attached;
    this.#attached = value[attach](this.element, this.owner, present);
    if (present !== this.#attached) present?.dispose();
  }

  mark(stale: number, due: Member[]): void {
    this.#attached?.mark?.(stale, due);
  }

  dispose(): void {
    this.#attached?.dispose();
  }
}

export const bindAttached: Binder = (node, owner) => new Attaching(node as Element, owner);

/** A record of properties whose keys the compiler has seen. */
export const bindRecord: Binder = (node, owner) => new AmongAttributes(node as Element, owner, unguarded);

/** Any value among attributes. */
export const bindElement: Binder = (node, owner) => new AmongAttributes(node as Element, owner, byGuard);
