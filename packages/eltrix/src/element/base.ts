/** The base class of contract classes. It passes the standard's callbacks to the driver. */
import { trace } from '../signals/trace.ts';
import { noteConstruction, noteReached } from './author-checks.ts';
import { contractKey } from './contract-key.ts';
import { coreKey } from './core-key.ts';
import { Driver } from './driver.ts';
import { planOf } from './make-plan.ts';
import type { Contract } from './plan.ts';

type Constructor<T> = new () => T;

/** The prototype with the library's methods. */
export function baseOf(Class: object): object {
  let prototype = (Class as { prototype: object }).prototype;
  while (!Object.hasOwn(prototype, coreKey)) prototype = Object.getPrototypeOf(prototype) as object;
  return prototype;
}

/** Replaces HTMLElement where there is no DOM, so that modules can be imported. */
export const NoElement = class {} as unknown as Constructor<HTMLElement>;

/** Development: gives an element another driver when its class is replaced. */
export const exchangeDriver: unique symbol = Symbol('exchange driver') as never;

interface BaseClass {
  new (): HTMLElement;
  readonly observedAttributes: string[];
}

/** Creates the base class of all elements that extend one of the platform's classes. */
function makeBase(Super: Constructor<HTMLElement> = NoElement): BaseClass {
  const BaseElement = class extends Super {
    #driver: Driver;

    static {
      if (__DEV__)
        Object.defineProperty(this.prototype, exchangeDriver, {
          value(this: InstanceType<typeof BaseElement>, driver: Driver) {
            this.#driver = driver;
          },
        });
    }

    constructor() {
      super();
      this.#driver = new Driver(this, planOf(new.target as never));
      if (__DEV__) noteConstruction(this);
      this.#driver.construct();
    }

    get [coreKey](): Driver {
      return this.#driver;
    }

    static get observedAttributes(): string[] {
      const { members } = (this as unknown as { [contractKey]: Contract })[contractKey];
      return members.flatMap(({ attribute }) => attribute ?? []);
    }

    connectedCallback(): void {
      if (__DEV__) noteReached('connectedCallback');
      this.#driver.connect();
    }

    disconnectedCallback(): void {
      if (__DEV__) noteReached('disconnectedCallback');
      this.#driver.disconnect();
    }

    adoptedCallback(from: Document, to: Document): void {
      if (__DEV__) noteReached('adoptedCallback');
      this.#driver.adopt(from, to);
    }

    attributeChangedCallback(
      name: string,
      before: string | null,
      after: string | null,
      namespace?: string | null,
    ): void {
      if (__DEV__) noteReached('attributeChangedCallback');
      // Attributes of the same local name in other namespaces are reported too (DOM §4.9, "handle attribute changes").
      // Subclasses often pass on three arguments.
      const driver = this.#driver;
      if (namespace) return;
      for (const member of driver.plan.contract.members)
        if (member.attribute === name) {
          if (__DEV__) trace({ kind: 'attribute', host: this, name, before, after });
          driver.attributeChanged(member, before, after);
        }
    }
  };
  return BaseElement;
}

let base: BaseClass | undefined;
const builtInBases = new Map<string, BaseClass>();

/** The base class of autonomous elements. */
export function plainBase(): BaseClass {
  return (base ??= makeBase((globalThis as { HTMLElement?: Constructor<HTMLElement> }).HTMLElement));
}

/** The base class of customized built-in elements of a tag. */
export function builtInBase(tag: string): BaseClass {
  let base = builtInBases.get(tag);
  if (!base) {
    const { document } = globalThis as { document?: Document };
    base = makeBase(document?.createElement(tag).constructor as Constructor<HTMLElement> | undefined);
    builtInBases.set(tag, base);
  }
  return base;
}
