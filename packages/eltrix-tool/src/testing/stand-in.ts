/** Replaces nested elements and methods for a test. */
import { contractKey } from '../../../eltrix/src/element/contract-key.ts';
import { type Contract, declarations } from '../../../eltrix/src/element/plan.ts';
import { piece, template } from '../../../eltrix/src/view/compiled.ts';
import { atEnd } from './host.ts';

type ElementClass = CustomElementConstructor & { readonly [contractKey]?: Contract };

/**
 * Replaces the elements of a tag by inert ones for the test: with the same attributes, properties and slots if the tag
 * is defined. A defined tag cannot be removed from the registry, so elements are changed when they are created or
 * connected.
 *
 * @param implementation members of the replacement, for example `{ open() { … } }`.
 * @example standIn('honey-chart');  // inert, with the same attributes and slots
 */
export function standIn(tag: string, implementation: object = {}): void {
  const present = customElements.get(tag) as ElementClass | undefined;
  if (present) {
    const undo = inert(present, implementation);
    atEnd(undo);
    return;
  }
  // The tag was free: it stays defined, as an empty element, until the page is closed.
  class StandIn extends HTMLElement {}
  Object.defineProperties(StandIn.prototype, Object.getOwnPropertyDescriptors(implementation));
  customElements.define(tag, StandIn);
  atEnd(() => {
    for (const key of Object.keys(implementation)) Reflect.deleteProperty(StandIn.prototype, key);
  });
}

/** Makes a class's elements inert: their view is their slots, their methods are empty. */
function inert(Class: ElementClass, implementation: object): () => void {
  const { prototype } = Class as unknown as { prototype: object };
  const before = new Map<string, PropertyDescriptor | undefined>();
  const put = (name: string, descriptor: PropertyDescriptor) => {
    if (!before.has(name)) before.set(name, Object.getOwnPropertyDescriptor(prototype, name));
    Object.defineProperty(prototype, name, { ...descriptor, configurable: true });
  };
  const contract = Class[contractKey];
  const declared = new Set(contract?.members?.map(({ name }) => name));
  for (const [name, descriptor] of Object.entries(Object.getOwnPropertyDescriptors(prototype))) {
    if (name === 'constructor' || declared.has(name) || typeof descriptor.value !== 'function') continue;
    if (/^(?:connected|disconnected|adopted|attributeChanged)Callback$/.test(name)) continue;
    put(name, { value: () => undefined, writable: true });
  }
  if (contract && !contract.members) {
    // A static element: its static part contains its slots.
    put('view', { value: () => [], writable: true });
  } else if (contract) {
    const slots = new Set([...declarations(contract)].flatMap(declaration => Object.keys(declaration.slots ?? {})));
    const html =
      [...slots].map(name => `<slot name="${name.replaceAll('"', '&quot;')}"></slot>`).join('') || '<slot></slot>';
    const inside = template(html, [], () => []);
    put('view', { value: () => piece(inside, []), writable: true });
  }
  for (const [name, descriptor] of Object.entries(Object.getOwnPropertyDescriptors(implementation)))
    put(name, descriptor);
  return () => {
    for (const [name, descriptor] of before) {
      if (descriptor) Object.defineProperty(prototype, name, descriptor);
      else Reflect.deleteProperty(prototype, name);
    }
  };
}

/**
 * Replaces a method for all instances of a class until the test ends. The first argument is the original method, bound
 * to the element.
 *
 * @throws TypeError if the class has no such method.
 * @example override(HiveCard, 'open', original => { original(); calls++; });
 */
export function override<C extends { readonly prototype: object }, K extends keyof C['prototype'] & string>(
  Class: C,
  method: K,
  fn: (this: C['prototype'], original: C['prototype'][K], ...args: unknown[]) => unknown,
): void {
  const prototype = Class.prototype as Record<string, unknown>;
  const own = Object.getOwnPropertyDescriptor(prototype, method);
  const original = prototype[method];
  if (typeof original !== 'function') {
    throw new TypeError(
      `(override-missing): ${(Class as { name?: string }).name ?? 'the class'} has no method "${method}". It has ${methodsOf(prototype).join(', ') || 'none'}.`,
    );
  }
  Object.defineProperty(prototype, method, {
    value(this: object, ...args: unknown[]) {
      return fn.call(this, (original as (...args: unknown[]) => unknown).bind(this) as never, ...args);
    },
    configurable: true,
    writable: true,
  });
  atEnd(() => {
    if (own) Object.defineProperty(prototype, method, own);
    else Reflect.deleteProperty(prototype, method);
  });
}

function methodsOf(prototype: object): string[] {
  return Object.getOwnPropertyNames(prototype).filter(
    name => name !== 'constructor' && typeof Object.getOwnPropertyDescriptor(prototype, name)!.value === 'function',
  );
}
