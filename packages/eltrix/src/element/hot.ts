/**
 * Development: hot replacement. When a module is evaluated again, it defines its element again, and the existing
 * elements get the new class on the same nodes. A registry keeps the first constructor of a tag, and reads callbacks
 * and observed attributes once (HTML §4.13.4). So it gets a stand-in, which constructs the current class.
 */
import { asciiLowerCase } from '../contract/convert.ts';
import { isSignal } from '../signals/readable.ts';
import { baseOf, exchangeDriver } from './base.ts';
import { contractKey } from './contract-key.ts';
import { coreKey } from './core-key.ts';
import { Driver } from './driver.ts';
import { keepPlace } from './kept-place.ts';
import { planOf } from './make-plan.ts';
import type { Contract } from './plan.ts';

type ElementClass = CustomElementConstructor & {
  readonly observedAttributes?: readonly string[];
  readonly formAssociated?: boolean;
  readonly [contractKey]: Contract;
};

type Living = HTMLElement & { readonly [coreKey]: Driver };
type Anything = Record<PropertyKey, unknown>;

interface Entry {
  current: ElementClass;
  /** The constructor in the registry. */
  readonly standIn: CustomElementConstructor;
  /** The attributes that the registry observes. */
  readonly observed: ReadonlySet<string>;
  readonly elements: Set<WeakRef<Living>>;
}

const key = Symbol.for('eltrix.hot.1');

/** Whether modules are replaced while the page runs: set by the Vite plugin. */
export const isHot = (): boolean => __DEV__ && (globalThis as Anything)[key] === true;

const entries = new Map<string, Entry>();
/** The entry of each class that is or was current. */
const entryOf = new WeakMap<object, Entry>();

/**
 * Defines an element, or replaces the class of a defined one.
 * @returns false if the tag belongs to an element that was defined in another way.
 */
export function defineHot(Class: ElementClass, tag: string, options: ElementDefinitionOptions): boolean {
  const entry = entries.get(tag);
  if (entry) {
    if (entry.current !== Class) replace(tag, entry, Class);
    return true;
  }
  if (customElements.get(tag)) return false;
  register(Class, tag, options);
  return true;
}

const callbacks =
  'connectedCallback disconnectedCallback adoptedCallback attributeChangedCallback formAssociatedCallback formDisabledCallback formResetCallback formStateRestoreCallback connectedMoveCallback'.split(
    ' ',
  );

/** A function, since the `prototype` of a class is read-only. */
function Constructible() {}

function register(Class: ElementClass, tag: string, options: ElementDefinitionOptions): void {
  constructThroughStandIn((baseOf(Class) as { constructor: object }).constructor);
  /** The callbacks that the registry reads: each calls the current class's. */
  let read: object | undefined = Object.fromEntries(
    callbacks
      .filter(name => (Class.prototype as Anything)[name] !== undefined)
      .map(name => [
        name,
        function (this: Anything, ...args: unknown[]) {
          return (this[name] as ((...args: unknown[]) => unknown) | undefined)?.(...args);
        },
      ]),
  );
  const entry: Entry = {
    current: Class,
    standIn: new Proxy(Constructible as unknown as CustomElementConstructor, {
      get(_, name) {
        const first = read;
        if (name !== 'prototype' || !first) return Reflect.get(entry.current, name) as unknown;
        // Set now, since defining upgrades the elements on the page at once.
        read = undefined;
        return first;
      },
      has: (_, name) => Reflect.has(entry.current, name),
      construct: () => Reflect.construct(entry.current, []) as object,
      getPrototypeOf: () => Reflect.getPrototypeOf(entry.current),
    }),
    observed: new Set(Class.observedAttributes ?? []),
    elements: new Set(),
  };
  entries.set(tag, entry);
  entryOf.set(Class, entry);
  customElements.define(tag, entry.standIn, options);
}

/** Base classes whose instances come from the stand-in of their class. */
const bases = new WeakSet<object>();

/** `new HiveCard()` and the registry construct the same class. */
function constructThroughStandIn(Base: object): void {
  if (bases.has(Base)) return;
  bases.add(Base);
  const Super = Object.getPrototypeOf(Base) as CustomElementConstructor;
  const construct = function (this: unknown) {
    const Class = new.target as unknown as ElementClass;
    const entry = entryOf.get(Class);
    const element = Reflect.construct(Super, [], entry?.standIn ?? Class) as Living;
    entry?.elements.add(new WeakRef(element));
    return element;
  };
  Object.setPrototypeOf(construct, Super);
  Object.setPrototypeOf(Base, construct);
}

/** The reason why existing elements cannot take another class. */
function obstacle(tag: string, { current }: Entry, Class: ElementClass): string | undefined {
  const [before, after] = [current[contractKey], Class[contractKey]];
  if (Boolean(current.formAssociated) !== Boolean(Class.formAssociated))
    return 'it is form-associated now, or no longer';
  if (before.extends !== after.extends) return 'it extends another built-in element';
  if ((before.shadow === 'none') !== (after.shadow === 'none')) return 'its view is in another kind of root';
  for (const [other, entry] of entries)
    if (other !== tag && entry.current.prototype instanceof current) return `<${other}> is made from it`;
  return undefined;
}

function replace(tag: string, entry: Entry, Class: ElementClass): void {
  const reason = obstacle(tag, entry, Class);
  if (reason !== undefined) {
    console.info(`Eltrix: <${tag}> cannot be replaced while the page runs, since ${reason}. The page reloads.`);
    location.reload();
    return;
  }
  const old = entry.current;
  entry.current = Class;
  entryOf.set(Class, entry);
  observeMore(Class, entry.observed);
  // Other modules refer to the old class.
  Object.defineProperty(old, Symbol.hasInstance, {
    value: (value: unknown) => value instanceof entry.current,
    configurable: true,
  });
  for (const ref of entry.elements) {
    const element = ref.deref();
    if (element === undefined) entry.elements.delete(ref);
    else exchange(element, Class);
  }
}

/** Observes attributes that the registry does not, through the methods that change attributes. */
function observeMore(Class: ElementClass, observed: ReadonlySet<string>): void {
  const late = new Set((Class.observedAttributes ?? []).filter(name => !observed.has(name)));
  if (late.size === 0) return;
  const forwarded = (
    method: 'setAttribute' | 'removeAttribute' | 'toggleAttribute' | 'setAttributeNS' | 'removeAttributeNS',
  ) => {
    const isNS = method.endsWith('NS');
    return function (this: Living, ...args: unknown[]) {
      const name = asciiLowerCase(String(args[isNS ? 1 : 0]));
      const before = this.getAttribute(name);
      const original = HTMLElement.prototype[method] as (...args: unknown[]) => unknown;
      const result = original.apply(this, args);
      if (late.has(name))
        (this as unknown as { attributeChangedCallback(...args: unknown[]): void }).attributeChangedCallback(
          name,
          before,
          this.getAttribute(name),
          null,
        );
      return result;
    };
  };
  for (const method of [
    'setAttribute',
    'removeAttribute',
    'toggleAttribute',
    'setAttributeNS',
    'removeAttributeNS',
  ] as const)
    Object.defineProperty(Class.prototype, method, { value: forwarded(method), configurable: true, writable: true });
}

/**
 * Gives an existing element another class, and keeps node, attributes, properties, state, focus and scroll position.
 */
function exchange(element: Living, Class: ElementClass): void {
  const before = element[coreKey];
  const { isConnected } = element;
  const restorePlace = keepPlace(before.root);
  before.disconnect();
  for (const binding of before.bindings.splice(0)) binding?.dispose();
  const { light } = before;
  // Without a view all content is given, or sent by a server.
  if (before.assembled) {
    if (light) element.replaceChildren(...light.given());
    else before.root?.replaceChildren();
  }
  const host = element as unknown as Anything;
  const properties = keptProperties(before, host);
  const fields = [...publicFields(host), ...privateFields(host)].flatMap(keptField);
  const { contract } = planOf(Class);
  Object.setPrototypeOf(element, Class.prototype as object);
  // As if they had been set before an upgrade. A property of one class alone stays as a plain one meanwhile.
  const members = new Set(contract.members.map(({ name }) => name));
  for (const name of new Set([...members, ...Object.keys(properties)])) {
    const given = [properties, host].find(one => Object.hasOwn(one, name) && !isSignal(one[name]));
    const value = given?.[name];
    if (members.has(name)) delete host[name];
    else if (name in host) continue;
    if (given) Object.defineProperty(host, name, { value, configurable: true, writable: true, enumerable: true });
  }
  const driver = new Driver(element, planOf(Class), before.attached);
  (host[exchangeDriver] as (driver: Driver) => void)(driver);
  driver.construct();
  constructOn(element, Class);
  const now = new Map([...publicFields(host), ...privateFields(host)].map(field => [field.name, field]));
  for (const { name, restore } of fields) {
    const field = now.get(name);
    if (field) restore(field);
  }
  if (isConnected) (element as unknown as { connectedCallback(): void }).connectedCallback();
  restorePlace(driver.root);
}

/** The values of properties without an attribute. */
function keptProperties(driver: Driver, host: Anything): Anything {
  const kept: Anything = {};
  for (const { name, index, attribute, reflects } of driver.plan.contract.members)
    if (attribute === undefined ? driver.values && index in driver.values : !reflects) kept[name] = host[name];
  return kept;
}

interface Field {
  readonly name: string;
  get(): unknown;
  set(value: unknown): void;
}

function publicFields(host: Anything): Field[] {
  return Object.keys(host).map(name => ({
    name,
    get: () => host[name],
    set: value => {
      host[name] = value;
    },
  }));
}

/** The hook through which the Vite plugin makes private fields accessible. */
const privateKey = Symbol.for('eltrix.private.1');

function privateFields(host: Anything): Field[] {
  const fields: Field[] = [];
  type Visit = (name: string, get: () => unknown, set: (value: unknown) => void) => void;
  const show = host[privateKey] as ((visit: Visit) => void) | undefined;
  show?.call(host, (name, get, set) => void fields.push({ name, get, set }));
  return fields;
}

const isWritable = (value: unknown): value is { peek(): unknown; set(value: unknown): void } =>
  isSignal(value) && 'set' in (value as object);

/** State in a field: a signal or a plain value. Other fields come from the new class. */
function keptField(field: Field): { readonly name: string; restore(now: Field): void }[] {
  const { name } = field;
  const value = field.get();
  if (isWritable(value)) {
    const last = value.peek();
    return [
      {
        name,
        restore(now) {
          const signal = now.get();
          if (isWritable(signal)) signal.set(last);
        },
      },
    ];
  }
  if (typeof value === 'object' || typeof value === 'function') return [];
  return [
    {
      name,
      restore(now) {
        if (typeof now.get() === typeof value) now.set(value);
      },
    },
  ];
}

/** Runs the constructors of a class, up to the library's base class, on an existing element. */
function constructOn(element: Living, Class: ElementClass): void {
  const Base = (baseOf(Class) as { constructor: object }).constructor;
  let above = Class as object;
  while (Object.getPrototypeOf(above) !== Base) above = Object.getPrototypeOf(above) as object;
  Object.setPrototypeOf(above, function reuse(this: unknown) {
    // A class with `new.target` can only be constructed.
    return new.target && element;
  });
  try {
    Reflect.construct(Class, []);
  } finally {
    Object.setPrototypeOf(above, Base);
  }
}
