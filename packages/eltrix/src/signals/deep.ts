/** Deep tracking: arrays and plain objects whose changes in place notify subscribers. */
import { needGraph } from './least.ts';
import { type Link, type Source, state, untracked } from './state.ts';

/** One field of one object, or the list of its keys, as a source. */
class Field implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;

  constructor(
    readonly fields?: Map<unknown, Field>,
    readonly key?: unknown,
  ) {}

  /**
   * The last subscriber has gone. The version changes, so that a computed that keeps this reading validates it again.
   */
  unwatched(): void {
    if (!this.fields?.delete(this.key)) return;
    state.graph!.changed(this);
  }
}

/** The proxy handler of one tracked object. It keeps a source for each field that was read. */
class Tracker implements ProxyHandler<object> {
  fields: Map<unknown, Field> | undefined;
  keys: Field | undefined;
  /** All items of an array: a view that shows the array subscribes to one source, not to one for each index. */
  items: Field | undefined;

  /** Notes that the active target reads a field. */
  reads(key: unknown): void {
    if (state.active === undefined) return;
    const fields = (this.fields ??= new Map());
    let field = fields.get(key);
    if (!field) fields.set(key, (field = new Field(fields, key)));
    state.graph!.track(field);
  }

  readsKeys(): void {
    if (state.active !== undefined) state.graph!.track((this.keys ??= new Field()));
  }

  readsItems(): void {
    if (state.active !== undefined) state.graph!.track((this.items ??= new Field()));
  }

  get(target: object, key: PropertyKey, receiver: unknown): unknown {
    if (isCollection(target)) return this.ofCollection(target, key, receiver);
    if (Array.isArray(target) && typeof key === 'string' && Object.hasOwn(arrayMethods, key)) return arrayMethods[key];
    if (typeof key !== 'symbol') this.reads(key);
    const value = Reflect.get(target, key, receiver);
    const standIn = deep(value);
    // A proxy must return the very value of a field that is neither configurable nor writable (ECMAScript §10.5.8).
    return standIn !== value && isFixed(Object.getOwnPropertyDescriptor(target, key)) ? value : standIn;
  }

  set(target: object, key: PropertyKey, given: unknown, receiver: unknown): boolean {
    // An object that inherits from a tracked object has separate fields.
    if (originals.get(receiver as object) !== target) return Reflect.set(target, key, given, receiver);
    const value = original(given);
    const own = Object.getOwnPropertyDescriptor(target, key);
    const length = Array.isArray(target) ? target.length : 0;
    if (own && 'value' in own && Object.is(own.value, value)) return true;
    state.graph!.refuseInComputed();
    // A setter may change other fields.
    if (!(own?.set ? Reflect.set(target, key, given, receiver) : Reflect.set(target, key, value))) return false;
    state.graph!.together(() => {
      this.touched(key, !own);
      if (Array.isArray(target) && target.length !== length) this.resized(target.length, length, key);
    });
    return true;
  }

  deleteProperty(target: object, key: PropertyKey): boolean {
    const had = Object.hasOwn(target, key);
    if (had) state.graph!.refuseInComputed();
    if (!Reflect.deleteProperty(target, key)) return false;
    if (had) this.touched(key, true);
    return true;
  }

  defineProperty(target: object, key: PropertyKey, descriptor: PropertyDescriptor): boolean {
    const own = Object.hasOwn(target, key);
    const length = Array.isArray(target) ? target.length : 0;
    state.graph!.refuseInComputed();
    if (
      !Reflect.defineProperty(
        target,
        key,
        'value' in descriptor ? { ...descriptor, value: original(descriptor.value) } : descriptor,
      )
    ) {
      return false;
    }
    state.graph!.together(() => {
      this.touched(key, !own);
      if (Array.isArray(target) && target.length !== length) this.resized(target.length, length, key);
    });
    return true;
  }

  has(target: object, key: PropertyKey): boolean {
    this.reads(key);
    return Reflect.has(target, key);
  }

  ownKeys(target: object): (string | symbol)[] {
    this.readsKeys();
    return Reflect.ownKeys(target);
  }

  getOwnPropertyDescriptor(target: object, key: PropertyKey): PropertyDescriptor | undefined {
    this.reads(key);
    const own = Reflect.getOwnPropertyDescriptor(target, key);
    return own && 'value' in own && !isFixed(own) ? { ...own, value: deep(own.value) } : own;
  }

  /** Methods of a Map or Set need the collection itself as `this`: reads and changes are noted here. */
  ofCollection(target: Collection, key: PropertyKey, receiver: unknown): unknown {
    const value: unknown = Reflect.get(target, key, target);
    if (key === 'size') this.readsKeys();
    if (typeof value !== 'function') return value;
    return (...given: unknown[]) => {
      const args = given.map(original);
      const [item] = args;
      const had = target.has(item);
      if (key === 'get' || key === 'has') {
        this.reads(item);
        return deep(value.apply(target, args));
      }
      if (key === 'clear') {
        for (const one of [...target.keys()]) (receiver as Collection).delete(one);
        return undefined;
      }
      const adds = key === 'add' || key === 'set';
      if (adds || key === 'delete') {
        if (
          key === 'delete'
            ? !had
            : had && (key === 'add' || Object.is((target as Map<unknown, unknown>).get(item), args[1]))
        )
          return adds ? receiver : false;
        state.graph!.refuseInComputed();
        value.apply(target, args);
        // Iterating reads the values as well.
        this.touched(item, true);
        return adds ? receiver : true;
      }
      this.readsKeys();
      if (key === 'forEach')
        return target.forEach((one: unknown, at: unknown) => {
          (given[0] as (...args: unknown[]) => void)(deep(one), deep(at), receiver);
        });
      const result: unknown = value.apply(target, args);
      return iterators.has(key) ? eachDeep(result as Iterable<unknown>) : deep(result);
    };
  }

  touched(key: unknown, shape: boolean): void {
    const field = this.fields?.get(key);
    if (field) state.graph!.changed(field);
    if (shape && this.keys) state.graph!.changed(this.keys);
    if (this.items) state.graph!.changed(this.items);
  }

  /** An array method has run: notifies the subscribers of the indexes, the length and the keys that have changed. */
  rearranged(now: readonly unknown[], before: readonly unknown[]): void {
    const isOther = (key: string) => Object.hasOwn(now, key) !== Object.hasOwn(before, key);
    for (const [key, field] of this.fields ?? [])
      if (typeof key === 'string' && (!Object.is(now[key as never], before[key as never]) || isOther(key)))
        state.graph!.changed(field);
    if (this.keys && (now.length !== before.length || Object.keys(now).length !== Object.keys(before).length))
      state.graph!.changed(this.keys);
    if (this.items) state.graph!.changed(this.items);
  }

  /** Setting an index may change the length, and setting the length removes indexes: notifies both. */
  resized(now: number, before: number, by: PropertyKey): void {
    if (by !== 'length') {
      const field = this.fields?.get('length');
      if (field) state.graph!.changed(field);
      return;
    }
    if (this.keys) state.graph!.changed(this.keys);
    for (const [key, field] of this.fields ?? []) {
      if (typeof key === 'string' && +key >= now && +key < before) state.graph!.changed(field);
    }
  }
}

function isSameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++)
    if (!Object.is(a[i], b[i]) || (a[i] === undefined && Object.hasOwn(a, i) !== Object.hasOwn(b, i))) return false;
  return true;
}

type Collection = Map<unknown, unknown> | Set<unknown>;

/** Subclasses of Map and Set may have other methods: their instances are returned untracked. */
function isCollection(value: unknown): value is Collection {
  if (typeof value !== 'object' || value === null) return false;
  const prototype: unknown = Object.getPrototypeOf(value);
  return prototype === Map.prototype || prototype === Set.prototype;
}

const iterators = new Set<PropertyKey>(['keys', 'values', 'entries', Symbol.iterator]);

function* eachDeep(items: Iterable<unknown>): Generator<unknown> {
  for (const item of items) yield Array.isArray(item) ? item.map(deep) : deep(item);
}

const standIns = new WeakMap<object, object>();
const originals = new WeakMap<object, object>();
const trackers = new WeakMap<object, Tracker>();

/** Methods that change an array read it as well. Methods that search compare with the caller's original objects. */
const arrayMethods: Record<string, (this: unknown[], ...args: unknown[]) => unknown> = {};
for (const name of ['push', 'pop', 'shift', 'unshift', 'splice', 'sort', 'reverse', 'fill', 'copyWithin'] as const) {
  const method = Array.prototype[name] as (...args: unknown[]) => unknown;
  arrayMethods[name] = function (this: unknown[], ...args: unknown[]) {
    const target = original(this);
    const tracker = trackers.get(target);
    // An array that inherits from a tracked array has separate items.
    if (tracker === undefined || target === this) return method.apply(this, args);
    state.graph!.refuseInComputed();
    const before = target.slice();
    const [compare] = args;
    const given =
      name === 'sort' && typeof compare === 'function'
        ? [(a: unknown, b: unknown): unknown => (compare as typeof method)(deep(a), deep(b))]
        : args.map(original);
    return state.graph!.together(() => {
      try {
        const result = untracked(() => method.apply(target, given));
        return result === target ? this : name === 'splice' ? (result as unknown[]).map(deep) : deep(result);
      } finally {
        // A method that throws may have made changes before.
        if (!isSameList(target, before)) tracker.rearranged(target, before);
      }
    });
  };
}
for (const name of ['includes', 'indexOf', 'lastIndexOf'] as const) {
  arrayMethods[name] = function (this: unknown[], wanted: unknown, ...from: unknown[]) {
    // Reads each index and the length, so that the result is tracked.
    for (let i = 0; state.active !== undefined && i < this.length; i++) void this[i];
    const found = (original(this) as unknown[]).map(original);
    return (found[name] as (...args: unknown[]) => unknown)(original(wanted), ...from);
  };
}

const isFixed = (own: PropertyDescriptor | undefined) => own?.configurable === false && own.writable === false;

function trackable(value: unknown): value is object {
  if (typeof value !== 'object' || value === null) return false;
  if (Array.isArray(value) || isCollection(value)) return true;
  const prototype: unknown = Object.getPrototypeOf(value);
  return prototype === Object.prototype || prototype === null;
}

/**
 * Returns the proxy that tracks an array or plain object: the same proxy for the same object. Dates, elements, class
 * instances and frozen objects are returned unchanged.
 */
export function deep<T>(value: T): T {
  if (!trackable(value)) {
    if (__DEV__) warnUntracked(value);
    return value;
  }
  if (originals.has(value) || Object.isFrozen(value)) return value;
  let standIn = standIns.get(value);
  if (!standIn) {
    showLive();
    const tracker = new Tracker();
    standIn = new Proxy(value, tracker);
    trackers.set(value, tracker);
    standIns.set(value, standIn);
    originals.set(standIn, value);
  }
  return standIn as T;
}

/**
 * Returns an array or plain object whose changes in place are tracked, like those of a `live` property. Use it for
 * state outside the contract. Write to the returned object: changes of the original are not tracked.
 *
 * @example readonly #draft = liveObject({ notes: [] as string[] });
 */
export function liveObject<T extends object>(value: T): T {
  return deep(value);
}

/** Development: warnings that have been printed. */
const warned = new Set<unknown>();

/** Nodes, functions and promises are shown as they are; fields inside them are not read. */
function warnUntracked(value: unknown): void {
  if (typeof value !== 'object' || value === null || 'nodeType' in value || value instanceof Promise) return;
  const { name } = value.constructor as { name?: string };
  if (Object.isFrozen(value) || warned.has(name)) return;
  warned.add(name);
  console.warn(
    `Warning (live-untracked): A ${name || 'class instance'} in a live value is given as it is: what changes inside it does not show. ` +
      'Replace it as a whole, or keep plain objects, lists, Map and Set.',
  );
}

/** The object behind a proxy; any other value unchanged. */
export function original<T>(value: T): T {
  return ((typeof value === 'object' && value !== null && originals.get(value)) || value) as T;
}

/** Lets views read the fields of live lists and records that they show as a whole. */
export function showLive(): void {
  needGraph();
  state.live ??= { read: readLive, items: itemsOf, original };
}

/** Reads all items of a live list with one dependency; undefined for any other value. */
function itemsOf(value: unknown): unknown[] | undefined {
  const target = original(value);
  if (target === value || !Array.isArray(target)) return undefined;
  trackers.get(target)!.readsItems();
  return target.map(deep);
}

/** Makes the active evaluation depend on every field of a live list or record, nested ones included. */
function readLive(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(readLive);
  if (isCollection(value)) return [...value];
  return Object.is(original(value), value) ? value : { ...(value as object) };
}

/**
 * The original object behind a proxy, without proxies at any depth. Use it where the platform rejects proxies, as in
 * `structuredClone(plain(card.frames))`. Changes made to the result are not tracked.
 * @example structuredClone(plain(this.notes))
 */
export function plain<T>(value: T): T {
  const found = original(value);
  const seen = new Set<object>();
  const clean = (object: object) => {
    if (seen.has(object)) return;
    seen.add(object);
    for (const key of Object.keys(object)) {
      const inner: unknown = Object.getOwnPropertyDescriptor(object, key)!.value;
      const bare = original(inner);
      if (bare !== inner) Reflect.set(object, key, bare);
      if (trackable(bare)) clean(bare);
    }
  };
  if (trackable(found)) clean(found);
  return found;
}
