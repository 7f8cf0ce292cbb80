import type { TreeElement } from './tree.ts';

const inside = document.createElement('template');
inside.innerHTML = '<b> </b>';

class HandNode extends HTMLElement implements TreeElement {
  readonly #text: Text;
  readonly #root: ShadowRoot;
  #depth = 0;
  #value = 0;
  #children: HandNode[] = [];

  constructor() {
    super();
    this.#root = this.attachShadow({ mode: 'open' });
    const content = inside.content.cloneNode(true);
    this.#text = content.firstChild!.firstChild as Text;
    this.#text.data = '0';
    this.#root.append(content);
  }

  connectedCallback(): void {
    if (this.#children.length > 0 || this.#depth === 0) return;
    const fragment = document.createDocumentFragment();
    for (let i = 0; i < 3; i++) {
      const child = document.createElement('tree-node') as HandNode;
      child.#depth = this.#depth - 1;
      child.value = this.#value;
      this.#children.push(child);
      fragment.append(child);
    }
    this.#root.append(fragment);
  }

  get depth(): number {
    return this.#depth;
  }
  set depth(value: number) {
    this.#depth = value;
  }
  get value(): number {
    return this.#value;
  }
  set value(value: number) {
    if (value === this.#value) return;
    this.#value = value;
    this.#text.data = `${value}`;
    for (const child of this.#children) child.value = value;
  }
}
customElements.define('tree-node', HandNode);
