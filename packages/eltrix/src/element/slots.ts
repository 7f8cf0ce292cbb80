/** What the page put into an element's slots, as a tracked reading, and whether it is what the contract asks for. */
import { changed, track } from '../signals/graph.ts';
import { afterChange } from '../signals/queue.ts';
import { LocalSource } from '../view/hole.ts';
import type { Ability } from './abilities.ts';
import type { Core } from './core.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { shown, warn } from './messages.ts';
import { declarations } from './plan.ts';
import type { LightCore, SlotsCore } from './sides.ts';

export interface SlottedOptions {
  /** Whether slots among the assigned elements are replaced by what is assigned to them, as in `assignedElements`. */
  readonly flatten?: boolean;
}

export class Slots {
  readonly #core: Core;
  #source: LocalSource<undefined> | undefined;

  constructor(core: Core) {
    this.#core = core;
    // Heard for slots of this root and for slots that are assigned to them (DOM §4.2.2.5; slotchange bubbles).
    core.root?.addEventListener('slotchange', () => {
      this.changed();
      if (__DEV__) this.check();
    });
  }

  changed(): void {
    if (!this.#source) return;
    changed(this.#source);
    afterChange();
  }

  read(name: string, options: SlottedOptions | undefined): Element[] {
    const core = this.#core;
    this.#source ??= new LocalSource(core, undefined);
    track(this.#source);
    const { light } = core as LightCore;
    if (light) return light.assigned(name);
    const slots = (core.root as ShadowRoot | undefined)?.querySelectorAll('slot') ?? [];
    for (const slot of slots) if (slot.name === name) return slot.assignedElements(options);
    return [];
  }

  /** Development: warns of required slots that are empty and of elements that a slot does not accept. */
  check(): void {
    const { host, plan, shown: isShown } = this.#core;
    if (!isShown) return;
    for (const declaration of declarations(plan.contract)) {
      for (const [name, slot] of Object.entries(declaration.slots ?? {})) {
        const where = name === '' ? 'the default slot' : `the slot "${name}"`;
        const given = [...host.childNodes].filter(
          node => (node instanceof Element ? node.slot : '') === name && !(node instanceof Comment),
        );
        const { light } = this.#core as LightCore;
        const elements = light ? light.assigned(name) : given.filter(node => node instanceof Element);
        if (slot.required && elements.length === 0 && !given.some(node => node.textContent?.trim())) {
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
            `<${host.localName}>: ${where} takes ${shown(slot.accepts)}, and <${element.localName}> stands in it. It shows all the same; put one of the accepted elements there.`,
            element,
          );
        }
      }
    }
  }
}

/** Development: looks at the slots once the page has had time to fill them. */
export function checkSlotsSoon(core: Core): void {
  const declared = [...declarations(core.plan.contract)].some(d =>
    Object.values(d.slots ?? {}).some(slot => slot.required || slot.accepts),
  );
  if (!declared) return;
  const look = () => setTimeout(() => slotsOf(core as SlotsCore).check());
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', look, { once: true });
  else look();
}

function slotsOf(core: SlotsCore): Slots {
  return (core.slots ??= new Slots(core));
}

/** For classes that ask for what is slotted. */
export const slotsAbility: Ability = {
  rank: 2,
  core: Base =>
    class extends Base implements SlotsCore {
      slots: Slots | undefined = undefined;

      override assemble(): void {
        super.assemble();
        this.slots?.changed();
      }
    },
  extend({ prototype }) {
    Object.defineProperty(prototype, 'slotted', {
      value(this: HasCore, name = '', options?: SlottedOptions): Element[] {
        return slotsOf(this[coreKey] as SlotsCore).read(name, options);
      },
      writable: true,
      configurable: true,
    });
  },
};
