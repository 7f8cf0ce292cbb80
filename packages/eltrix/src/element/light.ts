/** `shadow: 'none'`: the view is in the element, and the element's content in place of the slots. */
import { report } from '../signals/report.ts';
import { givenMark, isMark, viewMark } from '../view/sent-marks.ts';
import { apartIn, givenIn, givenTo, slotName, slotsOf } from '../view/sent-slots.ts';
import { atRoot } from './part.ts';
import type { Core, LightSide, Part } from './plan.ts';
import { useScopedSheets } from './scoped-styles.ts';

class LightRoot implements LightSide {
  readonly #core: Core;
  /** The element's content, in order. */
  #given: ChildNode[] = [];
  /** Nodes that views have put directly into the element. */
  readonly #own = new WeakSet<Node>();
  readonly #slots = new Set<HTMLSlotElement>();
  /** The fallback of each slot without content. */
  readonly #fallbacks = new WeakMap<HTMLSlotElement, ChildNode[]>();
  /** Content without a slot. */
  readonly #aside: DocumentFragment;
  readonly #observer: MutationObserver;
  /** Whether the element has its view. An element without a view keeps its content. */
  #begun = false;
  /** Removes the style sheets from the element's root. */
  #leaveSheets: (() => void) | undefined;

  declare taken?: () => void;
  declare leaveLateView?: () => void;

  // A build without rendering drops conditions, but not methods.
  static {
    if (__RENDERED__) {
      /** The sent view was adopted: moves hidden content to where it is kept. */
      this.prototype.taken = function (this: LightRoot) {
        const { host } = this.#core;
        givenTo.set(host, () => this.#given);
        for (const slot of slotsOf(host)) {
          this.#slots.add(slot);
          const apart = slot.hasAttribute(givenMark) ? apartIn(slot) : undefined;
          apart?.remove();
          this.#fallbacks.set(slot, [...(apart ? apart.content : slot).childNodes]);
        }
        const rest = apartIn(host);
        if (rest) this.#aside.append(rest.content);
        rest?.remove();
        for (const node of host.childNodes) this.#own.add(node);
      };
      /**
       * The element was created while the page was being parsed, so the sent nodes arrive later like content. At the
       * end of parsing only the real content stays.
       */
      this.prototype.leaveLateView = function (this: LightRoot) {
        const { document } = this.#core;
        if (document.readyState === 'loading')
          return document.addEventListener('DOMContentLoaded', () => this.update(), { once: true });
        const sent = this.#given.splice(this.#given.findIndex(node => isMark(node, viewMark)));
        const box = document.createElement('div');
        box.append(...sent);
        this.#given.push(...givenIn(box));
        this.#aside.append(...this.#given);
      };
    }
  }

  constructor(core: Core) {
    this.#core = core;
    this.#aside = core.document.createDocumentFragment();
    this.#observer = new MutationObserver(() => this.update());
  }

  connect(): void {
    const { host, plan } = this.#core;
    this.#leaveSheets ??= useScopedSheets(host, plan.styleSheets, plan.contract.extends, plan.contract.tag);
  }

  /** Removes the content before the view is inserted. A clone of a rendered element is taken apart. */
  begin(sent: boolean): void {
    const { host } = this.#core;
    this.#begun = true;
    this.#slots.clear();
    this.#aside.replaceChildren();
    if (isMark(host.firstChild, viewMark)) {
      this.#given = givenIn(host);
      if (__RENDERED__ && sent) return void this.#own.add(host.firstChild!);
    } else this.#given = [...host.childNodes];
    this.#aside.append(...this.#given);
    host.replaceChildren();
    const start = this.#core.document.createComment(viewMark);
    this.#own.add(start);
    host.append(start);
  }

  /** A view has created nodes for this element. */
  placed(node: Node): void {
    const top = node.nodeType === 11 ? [...node.childNodes] : [node];
    for (const child of top) this.#own.add(child);
    const slots =
      (node as Element).localName === 'slot'
        ? [node as HTMLSlotElement]
        : 'querySelectorAll' in node
          ? (node as Element).querySelectorAll('slot')
          : [];
    for (const slot of slots) {
      this.#slots.add(slot);
      this.#fallbacks.set(slot, [...slot.childNodes]);
    }
  }

  /** Puts content into its slots, and listens for changes. */
  update(): void {
    if (!this.#begun) return;
    const { host } = this.#core;
    this.#observer.disconnect();
    // Replaced by `innerHTML` and the like: what the element has now is its content.
    if (![...host.childNodes].some(node => this.#own.has(node))) return this.#core.remake();
    try {
      this.#collect(host);
      if (__RENDERED__ && this.#given.some(node => isMark(node, viewMark))) this.leaveLateView!();
      this.#distribute(host);
    } catch (error) {
      report(error, host);
    }
    this.observe();
    this.#core.slots?.changed();
  }

  observe(): void {
    const { host, shown } = this.#core;
    if (!shown || !this.#begun) return;
    this.#observer.observe(host, { childList: true });
    // Other scripts may insert nodes beside content without a slot.
    this.#observer.observe(this.#aside, { childList: true });
    for (const slot of this.#slots) {
      if (!host.contains(slot)) continue;
      this.#observer.observe(slot, { childList: true });
      if (slot.parentNode !== host) this.#observer.observe(slot.parentNode!, { childList: true });
    }
    for (const node of this.#given)
      if (node.nodeType === 1) this.#observer.observe(node, { attributes: true, attributeFilter: ['slot'] });
  }

  disconnect(): void {
    this.#observer.disconnect();
    this.#leaveSheets?.();
    this.#leaveSheets = undefined;
  }

  given(): readonly ChildNode[] {
    return this.#given;
  }

  assigned(name: string): Element[] {
    return this.#given.filter((node): node is Element & ChildNode => node.nodeType === 1 && slotName(node) === name);
  }

  /** The current content: nodes added directly, or moved inside the slots. */
  #collect(host: HTMLElement): void {
    // A slot that was removed with its content still has the content.
    const places: ParentNode[] = [...this.#slots].filter(slot => slot.hasAttribute(givenMark));
    const lists = [...places, this.#aside].map(({ childNodes }) => [...childNodes] as ChildNode[]);
    const there = new Set(lists.flat());
    let order = this.#given.filter(node => there.has(node));
    for (const list of lists) order = merged(order, list);
    // Nodes added to the element are its last children.
    this.#given = [...order, ...[...host.childNodes].filter(node => !this.#own.has(node))];
    for (const slot of this.#slots) if (!host.contains(slot)) this.#slots.delete(slot);
  }

  #distribute(host: HTMLElement): void {
    const byName = new Map<string, HTMLSlotElement>();
    for (const slot of host.querySelectorAll('slot'))
      if (this.#slots.has(slot) && !byName.has(slot.name)) byName.set(slot.name, slot);
    const wanted = new Map<HTMLSlotElement, ChildNode[]>();
    for (const node of this.#given) {
      const slot = byName.get(slotName(node));
      if (!slot) this.#aside.append(node);
      else if (wanted.has(slot)) wanted.get(slot)!.push(node);
      else wanted.set(slot, [node]);
    }
    for (const slot of this.#slots) {
      const nodes = wanted.get(slot);
      if (nodes) {
        slot.setAttribute(givenMark, '');
        fill(slot, nodes);
      } else if (slot.hasAttribute(givenMark)) {
        slot.removeAttribute(givenMark);
        slot.replaceChildren(...(this.#fallbacks.get(slot) ?? []));
      }
    }
  }
}

/** The content in its previous order, with nodes of each place added, removed and reordered. */
function merged(before: readonly ChildNode[], list: readonly ChildNode[]): ChildNode[] {
  const [known, here] = [new Set(before), new Set(list)];
  const order: ChildNode[] = [];
  let left = list.filter(node => known.has(node)).length;
  let next = 0;
  for (const node of before) {
    if (!here.has(node)) {
      order.push(node);
      continue;
    }
    // The next node of this place, preceded by new nodes; after the last one, all that follow.
    while (!known.has(list[next]!)) order.push(list[next++]!);
    order.push(list[next++]!);
    if (--left === 0) while (next < list.length) order.push(list[next++]!);
  }
  return [...order, ...list.slice(next)];
}

/**
 * Puts children into a slot. Children that stay are not touched, which keeps focus, scroll position and frames. The
 * others come together: an element among them finds its siblings when it is connected.
 */
function fill(slot: HTMLSlotElement, nodes: readonly ChildNode[]): void {
  const wanted = new Set<Node>(nodes);
  for (const node of [...slot.childNodes]) if (!wanted.has(node)) node.remove();
  let at = slot.firstChild;
  let others: ChildNode[] = [];
  for (const node of nodes) {
    if (node !== at) others.push(node);
    else {
      at.before(...others);
      others = [];
      at = at.nextSibling;
    }
  }
  slot.append(...others);
}

/** For elements without a shadow root: the element is the root. */
export const lightPart: Part = {
  at: atRoot,
  isRoot: true,
  construct(core) {
    core.root = core.host;
    core.light = new LightRoot(core);
  },
  prepare(core) {
    const { tag, extends: extended } = core.plan.contract;
    // Style sheets find the element by this attribute, which an element created by a script does not have.
    if (extended !== undefined && !core.host.hasAttribute('is')) core.host.setAttribute('is', tag);
    (core.light as LightRoot).connect();
  },
  connect: core => (core.light as LightRoot).connect(),
  move(core) {
    // The element may be below another root, which needs its style sheets.
    const light = core.light as LightRoot;
    light.disconnect();
    light.connect();
    light.observe();
  },
  disconnect: core => (core.light as LightRoot).disconnect(),
  /** The document or shadow root around the element gets the style sheets, at each connection. */
  adoptSheets() {},
};
