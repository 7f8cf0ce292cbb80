/** Puts the element that is checked on the page in every way there is, and says what it looks like. */
import type { CheckSpecimen, CheckTask } from './model.ts';
import { nodesOf, sheetOf } from './place.ts';
import { frame, quiet } from './watch.ts';

/** The element that a rule works with, in a place of its own. */
export interface Staged {
  readonly box: HTMLElement;
  readonly element: HTMLElement;
}

export class Stage {
  constructor(readonly task: CheckTask) {}

  get tag(): string {
    return this.task.description.tag;
  }

  /** The platform's name of its tag: that of the built-in for a customized one. */
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
    const found = root.querySelector<HTMLElement>(`${tag}, [is="${tag}"]`);
    if (!found) throw new Error(`There is no <${tag}> in the specimen.`);
    return found;
  }

  /** As in a specimen, without its scripts. */
  async stage(specimen: CheckSpecimen = this.first): Promise<Staged> {
    const box = this.box();
    box.append(nodesOf(specimen.html));
    await this.ready(box);
    return { box, element: this.find(box) };
  }

  /** As the page of a specimen would show it: with its scripts and styles. */
  async play(specimen: CheckSpecimen, run: number): Promise<Staged & { end(): void }> {
    const before = document.adoptedStyleSheets;
    document.adoptedStyleSheets = [...before, ...specimen.styles.map(sheetOf)];
    const box = this.box();
    box.append(nodesOf(specimen.html));
    await this.ready(box);
    for (const script of specimen.scripts) await import(/* @vite-ignore */ `${script}?run=${run}`);
    await frame();
    return {
      box,
      element: this.find(box),
      end: () => {
        box.remove();
        document.adoptedStyleSheets = before;
      },
    };
  }

  /** Waits for the project's elements in a tree, and for their views. */
  async ready(root: ParentNode): Promise<void> {
    await quiet();
    const late = [...root.querySelectorAll('*')]
      .map(({ localName }) => localName)
      .filter(name => name in this.task.others);
    await Promise.all([...new Set(late)].map(name => import(/* @vite-ignore */ this.task.others[name]!)));
    if (late.length > 0) await quiet();
  }

  /** A fresh one without attributes or content, not on the page. */
  bare(): HTMLElement {
    const { extends: extended } = this.task.description;
    return extended === undefined
      ? document.createElement(this.tag)
      : document.createElement(extended, { is: this.tag });
  }

  /** The element of a specimen as it was written, not upgraded: for its attributes and content. */
  written(specimen: CheckSpecimen = this.first): HTMLElement {
    const page = document.implementation.createHTMLDocument();
    page.body.append(page.importNode(nodesOf(specimen.html), true));
    return this.find(page.body);
  }
}

export function rootOf(element: HTMLElement): ShadowRoot | undefined {
  return element.shadowRoot ?? undefined;
}

/** All elements in a tree, those in open shadow roots as well. */
export function* deepElements(root: ParentNode): Generator<Element> {
  for (const element of root.querySelectorAll('*')) {
    yield element;
    if (element.shadowRoot) yield* deepElements(element.shadowRoot);
  }
}

/** The elements of an element's own view. */
export function viewElements(element: HTMLElement): Element[] {
  return [...(element.shadowRoot ?? element).querySelectorAll('*')];
}

/** What an element looks like as text: attributes in alphabetical order, content, shadow content. */
export function snapshot(element: Element): string {
  const lines: string[] = [];
  print(element, 0, true, lines);
  return lines.join('\n');
}

function print(node: Node, depth: number, whole: boolean, lines: string[]): void {
  const pad = '  '.repeat(depth);
  if (node instanceof Text) {
    const text = node.data.replace(/\s+/g, ' ').trim();
    if (text) lines.push(pad + text);
    return;
  }
  if (!(node instanceof Element)) return;
  const attributes = [...node.attributes].map(({ name, value }) => `${name}=${JSON.stringify(value)}`).sort();
  lines.push(`${pad}<${[node.localName, ...attributes].join(' ')}>`);
  if (whole && node.shadowRoot) {
    lines.push(`${pad}  #shadow`);
    printAll(node.shadowRoot, depth + 2, lines);
  }
  printAll(node, depth + 1, lines);
}

/** Neighbouring texts count as one: how a view splits them is its own affair. */
function printAll(parent: Node, depth: number, lines: string[]): void {
  let text = '';
  const flush = () => {
    const shown = text.replace(/\s+/g, ' ').trim();
    if (shown) lines.push('  '.repeat(depth) + shown);
    text = '';
  };
  for (const child of parent.childNodes) {
    if (child instanceof Text) text += child.data;
    else if (child instanceof Element) {
      flush();
      print(child, depth, false, lines);
    }
  }
  flush();
}

/** The first line in which two texts differ. */
export function firstDifference(
  a: string,
  b: string,
): { readonly expected: string; readonly seen: string } | undefined {
  if (a === b) return undefined;
  const [left, right] = [a.split('\n'), b.split('\n')];
  const at = left.findIndex((line, index) => line !== right[index]);
  const line = at < 0 ? left.length : at;
  return { expected: (left[line] ?? '(nothing more)').trim(), seen: (right[line] ?? '(nothing more)').trim() };
}
