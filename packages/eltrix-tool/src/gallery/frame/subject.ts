/** The element of a specimen: changed by the controls, and read. */

import type { ElementDescription } from '../../describe/description.ts';
import type { Changes, FrameState } from '../model.ts';
import { styledNodes } from './styled-nodes.ts';

type Properties = Record<string, unknown>;

export const noChanges: Changes = { attributes: {}, properties: {}, slots: {}, cssProperties: {}, states: {} };

export class Subject {
  readonly element: HTMLElement;
  readonly #description: ElementDescription;
  readonly #attributes: ReadonlyMap<string, string>;
  readonly #properties: ReadonlyMap<string, string | undefined>;
  readonly #slots = new Map<string, readonly Node[]>();
  #changes: Changes = noChanges;

  constructor(element: HTMLElement, description: ElementDescription) {
    this.element = element;
    this.#description = description;
    this.#attributes = new Map([...element.attributes].map(({ name, value }) => [name, value]));
    this.#properties = new Map(Object.entries(this.#readProperties()));
  }

  /** Changes that were undone are restored. */
  apply(changes: Changes): void {
    const { element } = this;
    const before = this.#changes;
    this.#changes = changes;
    const each = <T>(key: keyof Changes, put: (name: string, value: T | undefined) => void) => {
      const [old, now] = [before[key], changes[key]] as Readonly<Record<string, T>>[];
      for (const name of new Set([...Object.keys(old!), ...Object.keys(now!)]))
        if (old![name] !== now![name]) put(name, now![name]);
    };
    each<string | null>('attributes', (name, text) => {
      const value = text === undefined ? (this.#attributes.get(name) ?? null) : text;
      if (value === null) element.removeAttribute(name);
      else element.setAttribute(name, value);
    });
    each<string>('properties', (name, json) => {
      const text = json ?? this.#properties.get(name);
      if (text === undefined) return;
      try {
        (element as unknown as Properties)[name] = JSON.parse(text);
      } catch {
        // The control shows the error.
      }
    });
    each<string>('cssProperties', (name, value) => {
      if (value) element.style.setProperty(name, value);
      else element.style.removeProperty(name);
      if (element.getAttribute('style') === '') element.removeAttribute('style');
    });
    each<boolean>('states', (name, on) => {
      const { states } = element as unknown as { states?: CustomStateSet };
      if (on) states?.add(name);
      else states?.delete(name);
    });
    each<string>('slots', (name, html) => this.#fill(name, html));
  }

  #fill(slot: string, html: string | undefined): void {
    const present = childrenOf(this.element, slot);
    if (!this.#slots.has(slot)) this.#slots.set(slot, present);
    const fresh = html === undefined ? this.#slots.get(slot)! : assigned(styledNodes(html), slot);
    const [after] = present.length > 0 ? [present.at(-1)!.nextSibling] : [null];
    for (const node of present) node.parentNode?.removeChild(node);
    for (const node of fresh) this.element.insertBefore(node, after?.parentNode === this.element ? after : null);
  }

  #readProperties(): Record<string, string | undefined> {
    const own = this.#description.properties.filter(({ attribute }) => attribute === undefined);
    return Object.fromEntries(
      own.map(({ name }) => {
        const value = (this.element as unknown as Properties)[name];
        try {
          return [name, JSON.stringify(value, null, 2)];
        } catch {
          return [name, undefined];
        }
      }),
    );
  }

  read(html: string): FrameState {
    const { element } = this;
    return {
      attributes: Object.fromEntries([...element.attributes].map(({ name, value }) => [name, value])),
      properties: this.#readProperties(),
      slots: Object.fromEntries(
        this.#description.slots.map(({ name }) => [
          name,
          childrenOf(element, name)
            .map(node => (node instanceof Element ? withoutSlot(node) : (node.textContent ?? '')))
            .join('')
            .trim(),
        ]),
      ),
      states: this.#description.states.map(({ name }) => name).filter(name => matches(element, name)),
      html,
    };
  }
}

function matches(element: Element, state: string): boolean {
  try {
    return element.matches(`:state(${state})`);
  } catch {
    return (element as unknown as { states?: CustomStateSet }).states?.has(state) ?? false;
  }
}

function withoutSlot(element: Element): string {
  const copy = element.cloneNode(true) as Element;
  copy.removeAttribute('slot');
  return copy.outerHTML;
}

/** The light children for a slot. */
function childrenOf(element: Element, slot: string): ChildNode[] {
  return [...element.childNodes].filter(node =>
    node instanceof Element
      ? (node.getAttribute('slot') ?? '') === slot
      : slot === '' && node.nodeType === Node.TEXT_NODE,
  );
}

/** Text cannot be assigned to a named slot, so it is wrapped. */
function assigned(fragment: DocumentFragment, slot: string): Node[] {
  if (slot === '') return [...fragment.childNodes];
  return [...fragment.childNodes].flatMap(node => {
    if (node.nodeType === Node.TEXT_NODE && !node.textContent?.trim()) return [];
    let element = node as Element;
    if (!(node instanceof Element)) {
      element = document.createElement('span');
      element.append(node);
    }
    element.setAttribute('slot', slot);
    return [element];
  });
}
