/** Creates the element in every way, and reads its appearance. */

import { elementSelector } from '../../project/element-selector.ts';
import { frame, idle } from './idle.ts';
import type { CheckSpecimen, CheckTask } from './model.ts';
import { apart, nodesOf, sheetOf } from './place.ts';
import { quiet } from './quiet.ts';
import { type Noise, noiseOf, snapshot } from './snapshot.ts';

/** The element that a rule uses, in a separate container. */
export interface Staged {
  readonly box: HTMLElement;
  readonly element: HTMLElement;
}

/** Thrown when the element makes a rule inapplicable. */
export class Unsaid extends Error {}

export class Stage {
  #noise: Promise<Noise> | undefined;

  constructor(readonly task: CheckTask) {}

  /** The appearance of an element, without the differences between elements created in the same way. */
  async show(element: Element): Promise<string> {
    return snapshot(element, await this.noise());
  }

  /** Paths that differ between elements created in the same way, or that change over time: generated ids, clocks. */
  noise(): Promise<Noise> {
    this.#noise ??= noiseOf(async () => {
      const { box, element } = await this.stage();
      return { element, end: () => box.remove() };
    });
    return this.#noise;
  }

  /** @throws Unsaid for an element that has removed itself. */
  stays(element: Element): void {
    if (!element.isConnected) throw new Unsaid('it takes itself off the page');
  }

  get tag(): string {
    return this.task.description.tag;
  }

  /** The tag as the platform names it: the built-in element's for a customized one. */
  get localName(): string {
    return this.task.description.extends ?? this.tag;
  }

  get Class(): CustomElementConstructor {
    return customElements.get(this.tag)!;
  }

  /** The first specimen, or the bare tag. */
  get first(): CheckSpecimen {
    return this.task.specimens[0]!;
  }

  box(): HTMLElement {
    const box = document.createElement('div');
    document.body.append(box);
    return box;
  }

  find(root: ParentNode): HTMLElement {
    const { tag } = this;
    const found = root.querySelector<HTMLElement>(elementSelector(tag));
    // The check of specimens reports it as a finding.
    if (!found) throw new Unsaid('its specimen does not contain it');
    return found;
  }

  /** A specimen without its scripts. */
  async stage(specimen: CheckSpecimen = this.first): Promise<Staged> {
    const box = this.box();
    const nodes = apart(nodesOf(specimen.html));
    // The element may remove itself as soon as it is connected.
    const element = this.find(nodes);
    box.append(nodes);
    await this.ready(box);
    this.stays(element);
    return { box, element };
  }

  /** Puts a fresh element into a specimen, in place of the specimen's own. */
  async place(fresh: HTMLElement, specimen: CheckSpecimen = this.first): Promise<Staged> {
    const box = this.box();
    // Its nodes are not in the page yet.
    const nodes = apart(nodesOf(specimen.html));
    this.find(nodes).replaceWith(fresh);
    box.append(nodes);
    await this.ready(box);
    return { box, element: fresh };
  }

  /**
   * Shows a specimen like a page: with its scripts and styles.
   * @param make creates its nodes, if they differ from its HTML.
   * @param placed called with the element when they are in the page.
   */
  async play(
    specimen: CheckSpecimen,
    run: number,
    make = () => nodesOf(specimen.html),
    placed: (element: HTMLElement) => void = () => {},
  ): Promise<Staged & { end(): void }> {
    const before = document.adoptedStyleSheets;
    document.adoptedStyleSheets = [...before, ...specimen.styles.map(sheetOf)];
    const box = this.box();
    const nodes = apart(make());
    const element = this.find(nodes);
    box.append(nodes);
    placed(element);
    await this.ready(box);
    for (const script of specimen.scripts) await import(/* @vite-ignore */ `${script}?run=${run}`);
    await frame();
    this.stays(element);
    return {
      box,
      element,
      end: () => {
        box.remove();
        document.adoptedStyleSheets = before;
      },
    };
  }

  /** Waits until the project's elements in a tree are defined and have their views. */
  async ready(root: ParentNode): Promise<void> {
    await quiet();
    const late = [...root.querySelectorAll('*')]
      .map(({ localName }) => localName)
      .filter(name => name in this.task.others);
    await Promise.all([...new Set(late)].map(name => import(/* @vite-ignore */ this.task.others[name]!)));
    if (late.length > 0) await quiet();
    // Pending requests and short timers may change the appearance.
    await idle();
  }

  /** A fresh element without attributes or content, not in the page. */
  bare(): HTMLElement {
    const { extends: extended } = this.task.description;
    return extended === undefined
      ? document.createElement(this.tag)
      : document.createElement(extended, { is: this.tag });
  }

  /** The element of a specimen as written, not upgraded: for its attributes and content. */
  written(specimen: CheckSpecimen = this.first): HTMLElement {
    const page = document.implementation.createHTMLDocument();
    page.body.append(page.importNode(nodesOf(specimen.html), true));
    return this.find(page.body);
  }
}

export function rootOf(element: HTMLElement): ShadowRoot | undefined {
  return element.shadowRoot ?? undefined;
}

/** All elements in a tree, including those in open shadow roots. */
export function* deepElements(root: ParentNode): Generator<Element> {
  for (const element of root.querySelectorAll('*')) {
    yield element;
    if (element.shadowRoot) yield* deepElements(element.shadowRoot);
  }
}

/** The elements of an element's view. */
export function viewElements(element: HTMLElement): Element[] {
  return [...(element.shadowRoot ?? element).querySelectorAll('*')];
}
