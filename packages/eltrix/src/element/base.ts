/** The class that contract classes extend: the standard's callbacks, handed to the core. */
import { trace } from '../signals/trace.ts';
import { noteConstruction, noteReached } from './author-checks.ts';
import { contractKey } from './contract-key.ts';
import type { Core } from './core.ts';
import { coreKey } from './core-key.ts';
import { type Contract, planOf } from './plan.ts';

type Constructor<T> = new () => T;

/** The prototype that the library's own methods are on. */
export function baseOf(Class: object): object {
  let prototype = (Class as { prototype: object }).prototype;
  while (!Object.hasOwn(prototype, coreKey)) prototype = Object.getPrototypeOf(prototype) as object;
  return prototype;
}

/** A stand-in where there is no DOM, so that modules can be imported. */
const NoElement = class {} as unknown as Constructor<HTMLElement>;

interface BaseClass {
  new (): HTMLElement;
  readonly observedAttributes: string[];
}

/** Makes the base of all elements that extend one of the platform's classes. */
function makeBase(Super: Constructor<HTMLElement> = NoElement): BaseClass {
  return class extends Super {
    readonly #core: Core;

    constructor() {
      super();
      const plan = planOf(new.target as never);
      const core = new plan.Core(this, plan);
      this.#core = core;
      core.attachRoot();
      if (__DEV__) noteConstruction(this);
      for (const member of plan.contract.members) if (Object.hasOwn(this, member.name)) core.takeOver(member);
    }

    get [coreKey](): Core {
      return this.#core;
    }

    static get observedAttributes(): string[] {
      const { members } = (this as unknown as { [contractKey]: Contract })[contractKey];
      return members.flatMap(({ attribute }) => attribute ?? []);
    }

    connectedCallback(): void {
      if (__DEV__) noteReached('connectedCallback');
      const core = this.#core;
      if (this.isConnected && !core.shown) core.connect();
    }

    disconnectedCallback(): void {
      if (__DEV__) noteReached('disconnectedCallback');
      const core = this.#core;
      if (core.shown) core.disconnect();
    }

    adoptedCallback(from: Document, to: Document): void {
      if (__DEV__) noteReached('adoptedCallback');
      this.#core.adopted(from, to);
    }

    attributeChangedCallback(
      name: string,
      before: string | null,
      after: string | null,
      namespace: string | null,
    ): void {
      if (__DEV__) noteReached('attributeChangedCallback');
      // Attributes of the same local name in other namespaces are reported too (DOM §4.9, "handle attribute changes").
      const core = this.#core;
      if (namespace !== null) return;
      for (const member of core.plan.contract.members)
        if (member.attribute === name) {
          if (__DEV__) trace({ kind: 'attribute', host: this, name, before, after });
          core.attributeChanged(member, before, after);
        }
    }
  };
}

let base: BaseClass | undefined;
const builtInBases = new Map<string, BaseClass>();

/** The base for autonomous elements. */
export function plainBase(): BaseClass {
  return (base ??= makeBase((globalThis as { HTMLElement?: Constructor<HTMLElement> }).HTMLElement));
}

/** The base for customized built-in elements of a tag. */
export function builtInBase(tag: string): BaseClass {
  let base = builtInBases.get(tag);
  if (!base) {
    const { document } = globalThis as { document?: Document };
    base = makeBase(document?.createElement(tag).constructor as Constructor<HTMLElement> | undefined);
    builtInBases.set(tag, base);
  }
  return base;
}
