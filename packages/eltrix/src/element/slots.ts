/** The content of an element's slots as a tracked reading, and checks of the content against the contract. */
import { read, slotsKey, state } from '../signals/state.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { areContent } from './filled.ts';
import { shown, warn } from './messages.ts';
import { atSlots } from './part.ts';
import { type Core, declarations, type Part, type SlotsSide } from './plan.ts';

export interface SlottedOptions {
  /** Whether assigned slots are replaced by their content, as in `assignedElements`. */
  readonly flatten?: boolean;
}

class Slots implements SlotsSide {
  readonly #core: Core;

  constructor(core: Core) {
    this.#core = core;
    // slotchange bubbles: it comes from slots of this root and from slots assigned to them (DOM §4.2.2.5).
    core.root?.addEventListener('slotchange', () => {
      this.changed();
      if (__DEV__) this.check();
    });
  }

  changed(): void {
    this.#core.changed(1 << slotsKey);
    state.graph!.wrote(this.#core, slotsKey);
  }

  read(name: string, options: SlottedOptions | undefined): Element[] {
    const core = this.#core;
    read(core, slotsKey);
    const { light, root } = core;
    if (light) return options?.flatten ? flat(light.assigned(name)) : light.assigned(name);
    if (!root) return [];
    this.#observe(root);
    for (const slot of (root as ShadowRoot).querySelectorAll('slot'))
      if (slot.name === name) return slot.assignedElements(options);
    return [];
  }

  #observer: MutationObserver | undefined;
  #observed = new WeakSet<Node>();

  /** Follows what causes no slotchange event in the root: slots that come and go, and content without a slot. */
  #observe(node: Node): void {
    const { root, shown: isShown } = this.#core;
    if (!isShown || this.#observed.has(node)) return;
    this.#observed.add(node);
    this.#observer ??= new MutationObserver(records => {
      if (records.some(record => record.target.getRootNode() !== root || concernsSlots(record))) this.changed();
    });
    const changes =
      node === root ? { attributeFilter: ['name'] } : { attributeFilter: ['slot', 'name'], characterData: true };
    this.#observer.observe(node, { childList: true, subtree: true, ...changes });
  }

  /** Observes nothing until the content is read again: outer elements must not keep this one alive. */
  left(): void {
    if (!this.#observer) return;
    this.#observer.disconnect();
    this.#observer = undefined;
    this.#observed = new WeakSet();
    this.changed();
  }

  /** Whether a slot has content other than white space. */
  isFilled(name: string): boolean {
    const core = this.#core;
    if (__RENDERED__ && core.filled) return core.filled.has(name);
    read(core, slotsKey);
    const { host, light } = core;
    const nodes = light ? light.given() : host.childNodes;
    for (const node of light ? nodes : [host]) this.#observe(node);
    return areContent(nodes, name, host.getRootNode(), outer => this.#observe(outer));
  }

  /** Development: warns of required slots without content, and of elements that a slot does not accept. */
  check(): void {
    const { host, plan, shown: isShown } = this.#core;
    if (!__DEV__ || !isShown) return;
    for (const declaration of declarations(plan.contract)) {
      for (const [name, slot] of Object.entries(declaration.slots ?? {})) {
        const where = name === '' ? 'the default slot' : `the slot "${name}"`;
        const given = [...host.childNodes].filter(
          node => ((node as Element).slot ?? '') === name && node.nodeType !== 8,
        );
        const { light } = this.#core;
        const elements = flat(
          light ? light.assigned(name) : given.filter((node): node is Element & ChildNode => node.nodeType === 1),
        );
        if (slot.required && !this.isFilled(name)) {
          warn(
            'slot-required',
            `<${host.localName}>: ${where} is required and empty (${slot.about}). ${name === '' ? 'Put content between its tags.' : `Give a child of it slot="${name}".`}`,
            host,
          );
        }
        if (!slot.accepts) continue;
        for (const element of elements) {
          if (element.matches(slot.accepts)) continue;
          warn(
            'slot-accepts',
            `<${host.localName}>: ${where} takes ${shown(slot.accepts)}, and <${element.localName}> is in it. It is shown nevertheless; use one of the accepted elements.`,
            element,
          );
        }
      }
    }
  }
}

/** Whether slots were added, removed or renamed, or got other fallback content. */
function concernsSlots({ target, addedNodes, removedNodes }: MutationRecord): boolean {
  const isSlot = (node: Node) => (node as Element).localName === 'slot';
  const changed = [...addedNodes, ...removedNodes];
  return isSlot(target) || changed.some(node => isSlot(node) || (node as Element).querySelector?.('slot'));
}

/** Development: checks the slots after the page had time to fill them. */
export function checkSlotsSoon(core: Core): void {
  const declared = [...declarations(core.plan.contract)].some(d =>
    Object.values(d.slots ?? {}).some(slot => slot.required || slot.accepts),
  );
  if (!declared) return;
  const look = () => setTimeout(() => slotsOf(core).check());
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', look, { once: true });
  else look();
}

/** Elements, with the content of slots in their place. */
const flat = (elements: readonly Element[]): Element[] =>
  elements.flatMap(element =>
    element.localName === 'slot' ? (element as HTMLSlotElement).assignedElements({ flatten: true }) : element,
  );

function slotsOf(core: Core): Slots {
  return (core.slots ??= new Slots(core)) as Slots;
}

/** For classes that read the content of slots. */
export const slotsPart: Part = {
  at: atSlots,
  assemble: core => core.slots?.changed(),
  move: core => core.slots?.left(),
  disconnect: core => core.slots?.left(),
  extend({ prototype }) {
    Object.defineProperty(prototype, 'slotted', {
      value(this: HasCore, name = '', options?: SlottedOptions): Element[] {
        return slotsOf(this[coreKey]).read(name, options);
      },
      writable: true,
      configurable: true,
    });
    Object.defineProperty(prototype, 'isFilled', {
      value(this: HasCore, name = ''): boolean {
        return slotsOf(this[coreKey]).isFilled(name);
      },
      writable: true,
      configurable: true,
    });
  },
};
