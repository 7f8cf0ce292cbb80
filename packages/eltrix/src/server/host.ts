/** The stand-in for an element on a server: attributes, events, parent. */
import { NoElement } from '../element/base.ts';
import { contractKey } from '../element/contract-key.ts';
import type { Contract } from '../element/plan.ts';
import { globalProperties, reflected, reflecting } from './reflected.ts';

/** An element class with the members that rendering reads. */
export interface ElementClass {
  new (): HTMLElement;
  readonly prototype: HTMLElement;
  readonly [contractKey]?: Contract;
}

interface Host {
  readonly tag: string;
  readonly attributes: Map<string, string>;
  readonly parent: object | undefined;
  internals?: object;
  /** Created with the first listener. */
  events?: EventTarget;
}

/** A property, since a WeakMap of ten thousand elements is slow to collect. */
const hostKey: unique symbol = Symbol('host') as never;

interface HasHost {
  [hostKey]?: Host;
}

/** The state of the element whose constructor runs. */
let made: Host | undefined;

function hostOf(element: object): Host {
  return ((element as HasHost)[hostKey] ??= made ?? { tag: '', attributes: new Map(), parent: undefined });
}

/**
 * Creates an element with its attributes, like an upgrade: its constructor sees them.
 *
 * @param parent the parent element, across shadow roots; requests for context go there.
 */
export function makeHost(
  Class: ElementClass,
  tag: string,
  attributes: Map<string, string>,
  parent: object | undefined,
): HTMLElement {
  const outer = made;
  made = { tag, attributes, parent };
  try {
    const element = new Class();
    hostOf(element);
    return element;
  } finally {
    made = outer;
  }
}

/**
 * An element around others that states their language or direction (`lang`, `dir`), as the DOM would have it above them.
 *
 * @param outer its parent.
 */
export function makeAncestor(attributes: Map<string, string>, outer: object | undefined): object {
  const ancestor: HasHost = Object.create(NoElement.prototype as object) as object;
  ancestor[hostKey] = { tag: '', attributes, parent: outer };
  return ancestor;
}

/** Whether an attribute concerns all that is inside its element. */
export const isInherited = (name: string): boolean => name === 'lang' || name === 'dir';

/** The parent of what is inside an element of the view: the outer one, unless the element has such an attribute. */
export const parentInside = (attributes: Map<string, string>, outer: object | undefined): object | undefined =>
  attributes.has('lang') || attributes.has('dir') ? makeAncestor(attributes, outer) : outer;

export const attributesOf = (element: object): Map<string, string> => hostOf(element).attributes;

const lower = (name: string) => String(name).toLowerCase();

/** The DOM members that a view may read. All others are undefined. */
const members: Record<string, unknown> & ThisType<object> = {
  getAttribute(name: string) {
    return attributesOf(this).get(lower(name)) ?? null;
  },
  getAttributeNS(_namespace: string | null, name: string) {
    return attributesOf(this).get(name) ?? null;
  },
  hasAttribute(name: string) {
    return attributesOf(this).has(lower(name));
  },
  hasAttributeNS(_namespace: string | null, name: string) {
    return attributesOf(this).has(name);
  },
  getAttributeNames() {
    return [...attributesOf(this).keys()];
  },
  setAttribute(name: string, value: unknown) {
    attributesOf(this).set(lower(name), String(value));
  },
  setAttributeNS(_namespace: string | null, name: string, value: unknown) {
    attributesOf(this).set(name, String(value));
  },
  removeAttribute(name: string) {
    attributesOf(this).delete(lower(name));
  },
  removeAttributeNS(_namespace: string | null, name: string) {
    attributesOf(this).delete(name);
  },
  toggleAttribute(name: string, force?: boolean) {
    const attributes = attributesOf(this);
    const wanted = force ?? !attributes.has(lower(name));
    if (!wanted) attributes.delete(lower(name));
    else if (!attributes.has(lower(name))) attributes.set(lower(name), '');
    return wanted;
  },
  attachInternals() {
    return (hostOf(this).internals ??= {
      states: new Set<string>(),
      shadowRoot: null,
      form: null,
      labels: [],
      willValidate: false,
      validationMessage: '',
      validity: { valid: true },
      setFormValue() {},
      setValidity() {},
      checkValidity: () => true,
      reportValidity: () => true,
    });
  },
  addEventListener(...args: Parameters<EventTarget['addEventListener']>) {
    (hostOf(this).events ??= new EventTarget()).addEventListener(...args);
  },
  removeEventListener(...args: Parameters<EventTarget['removeEventListener']>) {
    hostOf(this).events?.removeEventListener(...args);
  },
  /** Requests for context: an event that bubbles goes on to the ancestors. */
  dispatchEvent(event: Event) {
    let stopped = false;
    for (const name of ['stopPropagation', 'stopImmediatePropagation'] as const) {
      const original = event[name];
      Object.defineProperty(event, name, {
        configurable: true,
        value() {
          stopped = true;
          original.call(event);
        },
      });
    }
    for (let target: object | undefined = this; target && !stopped; target = hostOf(target).parent) {
      hostOf(target).events?.dispatchEvent(event);
      if (!event.bubbles) break;
    }
    return !event.defaultPrevented;
  },
};

let isReady = false;

/** Adds these members to the class that replaces HTMLElement. @throws Error where there is a document. */
export function prepareHosts(): void {
  if (isReady) return;
  if ('HTMLElement' in globalThis)
    throw new Error(
      '(server-document): eltrix/server renders where there is no document, and globalThis.HTMLElement is there. Import it before a simulated DOM, or in a process without one.',
    );
  isReady = true;
  const { prototype } = NoElement;
  for (const [name, value] of Object.entries(members))
    Object.defineProperty(prototype, name, { value, writable: true, configurable: true });
  for (const name of globalProperties)
    Object.defineProperty(prototype, name, {
      configurable: true,
      get(this: object) {
        return reflecting(name, attributesOf(this));
      },
      set(this: object, value: unknown) {
        const [attribute, text] = reflected(name, value) ?? [];
        if (text === null) attributesOf(this).delete(attribute!);
        else if (attribute !== undefined) attributesOf(this).set(attribute, text!);
      },
    });
  const constants: Record<string, (element: object) => unknown> = {
    localName: element => hostOf(element).tag,
    tagName: element => hostOf(element).tag.toUpperCase(),
    isConnected: () => true,
    nodeType: () => 1,
    ownerDocument: () => null,
    // Across shadow roots.
    parentNode: element => hostOf(element).parent ?? null,
    shadowRoot: () => null,
  };
  for (const [name, read] of Object.entries(constants))
    Object.defineProperty(prototype, name, {
      configurable: true,
      get(this: object) {
        return read(this);
      },
    });
}
