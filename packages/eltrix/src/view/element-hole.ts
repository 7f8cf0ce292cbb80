import type { Member } from '../signals/state.ts';
import { currentPlace, Hole, keepHole } from './hole.ts';
import { CheckedListening, Listening } from './listener.ts';
import { danger, isGuarded, refusal, steady, vetted } from './safety.ts';
import type { Binder, Binding, Owner } from './template.ts';

/** How what attaches itself to an element is recognised (`handle`, `on`, `sync`). */
export const attach: unique symbol = Symbol.for('eltrix.attach.1') as never;

/** A value that may stand among an element's attributes and knows what to do there. */
export interface Attachable {
  /** @param present what an earlier value made here: it may be given back, brought up to date. */
  [attach](element: Element, owner: Owner, present?: Attached): Attached;
}

/** What an attachable value makes of an element. */
export interface Attached {
  /** As that of a binding, if it reads anything. */
  mark?(stale: number, due: Member[]): void;
  /** Ends it. The element may stay, and takes another value. */
  dispose(): void;
}

const attaches = (value: unknown): value is Attachable =>
  typeof value === 'object' && value !== null && attach in value;

/** A function that is a property's value, not a live reading. */
class Fixed {
  constructor(readonly value: unknown) {}
}

/** Passes a function as a plain property value: `<hive-list ${{ compare: fixed(byName) }}>`. */
// biome-ignore lint/complexity/noBannedTypes: any function at all.
export function fixed(value: Function): object {
  return new Fixed(value);
}

const guards = new Map<string, boolean>();

/** Whether values of a property have to be looked at, worked out once a tag and name. */
function guard(tag: string, key: string): boolean {
  const both = `${tag} ${key}`;
  let guarded = guards.get(both);
  if (guarded === undefined) guards.set(both, (guarded = isGuarded(tag, key)));
  return guarded;
}

class PropertyHole extends Hole {
  shown = false;
  last: unknown = undefined;

  constructor(
    owner: Owner,
    readonly element: Element,
    readonly key: string,
  ) {
    super(owner);
  }

  apply(given: unknown): void {
    const value = given instanceof Fixed ? given.value : given;
    if (this.shown && Object.is(value, this.last)) return;
    this.put(value);
    this.last = value;
    this.shown = true;
  }

  put(value: unknown): void {
    const { key } = this;
    const element = this.element as unknown as Record<string, unknown>;
    // A field that shows the value already keeps its selection.
    if (!(typeof value === 'string' && (key === 'value' || key === 'checked') && element[key] === value))
      element[key] = value;
  }
}

/** A property whose values could act: each is looked at first. */
class GuardedPropertyHole extends PropertyHole {
  override put(given: unknown): void {
    const { localName } = this.element;
    const value = steady(localName, this.key, given);
    const reason = danger(localName, this.key, value);
    if (reason !== undefined) throw refusal(reason, this.home, this.place);
    super.put(vetted(localName, this.key, value));
  }
}

type PropertyHoleClass = new (owner: Owner, element: Element, key: string) => PropertyHole;

/** Which holes a record of unknown keys needs. */
const byGuard = (tag: string, key: string): PropertyHoleClass => (guard(tag, key) ? GuardedPropertyHole : PropertyHole);
/** A property whose name the compiler has written into a function of its own: the engine sees what is set. */
class DirectPropertyHole extends PropertyHole {
  constructor(
    owner: Owner,
    element: Element,
    key: string,
    readonly assign: (element: never, value: unknown) => void,
  ) {
    super(owner, element, key);
  }

  override put(value: unknown): void {
    this.assign(this.element as never, value);
  }
}

/** One property of a record whose names the compiler has seen; `assign` sets it. */
export function bindProperty(key: string, assign: (element: never, value: unknown) => void): Binder {
  return (node, values, at, owner, renewable) =>
    keepHole(new DirectPropertyHole(owner, node as Element, key, assign), values[at], renewable);
}

/** The same for what a field shows, which is left alone if it shows it already. */
export function bindFieldProperty(key: string): Binder {
  return (node, values, at, owner, renewable) =>
    keepHole(new PropertyHole(owner, node as Element, key), values[at], renewable);
}

/** For keys that the compiler has looked at. */
const unguarded = (): PropertyHoleClass => PropertyHole;

/** A record of properties: functions are live, names that begin with `on` listen. */
class Properties {
  readonly kept = new Map<string, PropertyHole | Listening>();
  #values: unknown;

  constructor(
    readonly element: Element,
    readonly owner: Owner,
    readonly holeFor: (tag: string, key: string) => PropertyHoleClass,
  ) {}

  readonly #place = currentPlace();

  show(value: unknown): void {
    if (value === this.#values) return;
    this.#values = value;
    if (value === null || value === undefined || value === false) return this.leave();
    if (typeof value !== 'object' || Array.isArray(value)) throw this.#wrong(value);
    const record = value as Record<string, unknown>;
    for (const key of Object.keys(record)) this.#one(key, record[key]);
    for (const [key, kept] of this.kept) {
      if (Object.hasOwn(record, key)) continue;
      kept.dispose();
      if (kept instanceof Listening) kept.detach();
      this.kept.delete(key);
    }
  }

  #one(key: string, value: unknown): void {
    const { owner } = this;
    const known = this.kept.get(key);
    if (/^on./.test(key)) {
      if (known) (known as Listening).update([value], 0);
      else this.kept.set(key, new CheckedListening(this.element, key.slice(2), value, owner));
      return;
    }
    let hole = known as PropertyHole | undefined;
    if (!hole) {
      hole = new (this.holeFor(this.element.localName, key))(owner, this.element, key);
      if (__DEV__) hole.place = this.#place;
      this.kept.set(key, hole);
    }
    hole.set(value);
  }

  #wrong(value: unknown): TypeError {
    return new TypeError(
      __DEV__
        ? `(element-hole): among the attributes of <${this.element.localName}> can stand a record of properties, a handle(), on() or sync(), and ${describe(value)} came. Write <${this.element.localName} \${{ name: value }}>, or name="\${value}" for an attribute.`
        : 'element-hole',
    );
  }

  mark(stale: number, due: Member[]): void {
    for (const kept of this.kept.values()) if (!(kept instanceof Listening)) kept.mark(stale, due);
  }

  dispose(): void {
    for (const kept of this.kept.values()) kept.dispose();
    this.kept.clear();
  }

  /** Ends it on an element that stays. */
  leave(): void {
    for (const kept of this.kept.values()) if (kept instanceof Listening) kept.detach();
    this.dispose();
  }
}

function describe(value: unknown): string {
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'string' ? JSON.stringify(value.slice(0, 60)) : `a ${typeof value}`;
}

type HoleFor = (tag: string, key: string) => PropertyHoleClass;

/** The binding among an element's attributes: a record of properties, an attachable value, or nothing. */
class AmongAttributes implements Binding {
  #properties: Properties | undefined;
  #attached: Attached | undefined;
  #value: unknown;

  constructor(
    readonly element: Element,
    readonly owner: Owner,
    readonly holeFor: HoleFor,
  ) {}

  update(values: readonly unknown[], at: number): void {
    const value = values[at];
    if (value !== this.#value) this.show(value);
  }

  show(value: unknown): this {
    this.#value = value;
    const present = this.#attached;
    if (attaches(value)) {
      this.#properties?.leave();
      this.#properties = undefined;
      this.#attached = value[attach](this.element, this.owner, present);
      if (present !== this.#attached) present?.dispose();
      return this;
    }
    this.#attached = undefined;
    present?.dispose();
    (this.#properties ??= new Properties(this.element, this.owner, this.holeFor)).show(value);
    return this;
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

/** What attaches itself: `handle()`, `on()`, `sync()`. */
export const bindAttached: Binder = (node, values, at, owner, renewable) =>
  renewable
    ? new AmongAttributes(node as Element, owner, unguarded).show(values[at])
    : (values[at] as Attachable)[attach](node as Element, owner);

const recordBinder =
  (holeFor: HoleFor): Binder =>
  (node, values, at, owner) =>
    new AmongAttributes(node as Element, owner, holeFor).show(values[at]);

/** A record of properties whose keys the compiler has seen. */
export const bindRecord: Binder = /* @__PURE__ */ recordBinder(unguarded);
/** Anything that may stand among attributes. */
export const bindElement: Binder = /* @__PURE__ */ recordBinder(byGuard);
