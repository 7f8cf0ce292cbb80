/** The class that contract classes extend: the standard's callbacks, handed to the core. */
import { changed } from '../signals/graph.ts';
import { afterChange, report } from '../signals/queue.ts';
import { noteConstruction, noteReached } from './author-checks.ts';
import { Core, ValueCell } from './core.ts';
import { Plan } from './plan.ts';
import { coreKey } from './reflect.ts';
import { adoptSheets } from './styles.ts';

type Constructor<T> = new () => T;

const plans = new WeakMap<object, Plan>();

/** The plan of a class, made when its first instance is. */
export function planOf(Class: object): Plan {
  let plan = plans.get(Class);
  if (!plan) plans.set(Class, (plan = new Plan(Class as never, baseOf(Class))));
  return plan;
}

/** The prototype that the library's own methods are on. */
export function baseOf(Class: object): object {
  let prototype = (Class as { prototype: object }).prototype;
  while (!Object.hasOwn(prototype, coreKey)) prototype = Object.getPrototypeOf(prototype) as object;
  return prototype;
}

/** An observed attribute of this element changed (HTML §4.13.6). */
function attributeChanged(core: Core, name: string, before: string | null, after: string | null): void {
  const member = core.plan.byAttribute.get(name);
  if (member === undefined) return;
  const { host } = core;
  const early = core.early?.get(name);
  if (early !== undefined) {
    // This callback was queued before the constructor took over a property set earlier, and tells of older times.
    core.early!.delete(name);
    if (early.reflects) core.call('attributeChanged', name, before, host.getAttributeNS(null, name));
    else core.call('attributeChanged', name, before, after);
    return;
  }
  const cell = core.cells[member.index];
  if (cell !== undefined) {
    if (cell instanceof ValueCell) cell.text = undefined;
    changed(cell);
    afterChange();
  }
  if (core.plan.hooks.attributeChanged.length > 0) core.call('attributeChanged', name, before, after);
}

/** Properties that were set on the element before it was upgraded are taken over (HTML §4.13.1.1 tells why). */
function takeOver(core: Core): void {
  const host = core.host as unknown as Record<string, unknown>;
  for (const { name, attribute, reflects } of core.plan.members) {
    if (!Object.hasOwn(host, name)) continue;
    const value = host[name];
    delete host[name];
    const queued = attribute !== undefined && core.host.hasAttributeNS(null, attribute);
    try {
      host[name] = value;
    } catch (error) {
      report(error);
      continue;
    }
    if (attribute === undefined) continue;
    if (!queued && (!reflects || !core.host.hasAttributeNS(null, attribute))) continue;
    if (!core.early) {
      core.early = new Map();
      queueMicrotask(() => deliverEarly(core));
    }
    core.early.set(attribute, { queued, reflects });
  }
}

/** Attributes that were written in the constructor have no callback of their own. */
function deliverEarly(core: Core): void {
  for (const [name, { queued }] of core.early ?? []) {
    if (queued) continue;
    core.early!.delete(name);
    core.call('attributeChanged', name, null, core.host.getAttributeNS(null, name));
  }
}

/** A stand-in where there is no DOM, so that modules can be imported. */
const NoElement = class {} as unknown as Constructor<HTMLElement>;

interface BaseClass {
  new (): HTMLElement;
  readonly observedAttributes: string[];
  readonly formAssociated: boolean;
}

/** Makes the base of all elements that extend one of the platform's classes. */
function makeBase(Super: Constructor<HTMLElement> = NoElement): BaseClass {
  return class extends Super {
    readonly #core: Core;

    constructor() {
      super();
      const core = new Core(this, planOf(new.target));
      this.#core = core;
      const { abilities, form } = core.plan;
      abilities.root!(core);
      if (form) abilities.form!(core);
      if (__DEV__) noteConstruction(this);
      if (core.plan.members.length > 0) takeOver(core);
    }

    get [coreKey](): Core {
      return this.#core;
    }

    static get observedAttributes(): string[] {
      return [...planOf(this).byAttribute.keys()];
    }

    static get formAssociated(): boolean {
      return planOf(this).form;
    }

    connectedCallback(): void {
      if (__DEV__) noteReached('connectedCallback');
      const core = this.#core;
      if (core.early) deliverEarly(core);
      if (this.isConnected) core.connect();
    }

    disconnectedCallback(): void {
      if (__DEV__) noteReached('disconnectedCallback');
      this.#core.disconnect();
    }

    adoptedCallback(from: Document, to: Document): void {
      if (__DEV__) noteReached('adoptedCallback');
      const core = this.#core;
      if (core.root instanceof ShadowRoot && core.assembled) adoptSheets(core.root, core.plan.styleSheets);
      core.call('adopted', from, to);
    }

    attributeChangedCallback(
      name: string,
      before: string | null,
      after: string | null,
      namespace: string | null,
    ): void {
      if (__DEV__) noteReached('attributeChangedCallback');
      // Attributes of the same local name in other namespaces are reported too (DOM §4.9, "handle attribute changes").
      if (namespace === null) attributeChanged(this.#core, name, before, after);
    }
  };
}

let plainBase: BaseClass | undefined;
const builtInBases = new Map<string, BaseClass>();

/** The base for autonomous elements, or for customized built-in ones of a tag. */
export function baseFor(extended: string | undefined): BaseClass {
  const page = globalThis as { HTMLElement?: Constructor<HTMLElement>; document?: Document };
  if (extended === undefined) return (plainBase ??= makeBase(page.HTMLElement));
  let base = builtInBases.get(extended);
  if (!base) {
    const Super = page.document?.createElement(extended).constructor as Constructor<HTMLElement> | undefined;
    builtInBases.set(extended, (base = makeBase(Super)));
  }
  return base;
}
