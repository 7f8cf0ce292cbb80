import type { CardElement } from './cards.ts';

const badge = document.createElement('template');
badge.innerHTML = '<b> </b>';

class HandBadge extends HTMLElement {
  static observedAttributes = ['mood'];
  readonly #bold: HTMLElement;
  readonly #text: Text;

  constructor() {
    super();
    const content = badge.content.cloneNode(true);
    this.#bold = content.firstChild as HTMLElement;
    this.#text = this.#bold.firstChild as Text;
    this.#text.data = this.#bold.className = 'calm';
    this.attachShadow({ mode: 'open' }).append(content);
  }

  attributeChangedCallback(_name: string, before: string | null, after: string | null): void {
    if (before !== after) this.#text.data = this.#bold.className = this.mood;
  }

  get mood(): string {
    return this.getAttribute('mood')?.toLowerCase() === 'busy' ? 'busy' : 'calm';
  }
  set mood(value: string) {
    this.setAttribute('mood', value);
  }
}
customElements.define('mood-badge', HandBadge);

const inside = document.createElement('template');
inside.innerHTML =
  '<h3> </h3><slot name="badge"><mood-badge mood="calm"></mood-badge></slot><p>Boxes: <span> </span></p><button type="button">Open</button><slot></slot>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host { display: block }');

class HandCard extends HTMLElement implements CardElement {
  static observedAttributes = ['name', 'boxes', 'mood'];
  readonly #name: Text;
  readonly #badge: HandBadge;
  readonly #boxes: Text;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    const content = document.importNode(inside.content, true);
    const title = content.firstChild!;
    this.#name = title.firstChild as Text;
    this.#name.data = '';
    const slot = title.nextSibling!;
    this.#badge = slot.firstChild as HandBadge;
    const line = slot.nextSibling!;
    this.#boxes = line.lastChild!.firstChild as Text;
    this.#boxes.data = '1';
    line.nextSibling!.addEventListener('click', this);
    root.append(content);
  }

  attributeChangedCallback(name: string, before: string | null, after: string | null): void {
    if (before === after) return;
    if (name === 'name') this.#name.data = this.name;
    else if (name === 'mood') this.#badge.mood = this.mood;
    else this.#boxes.data = `${this.boxes}`;
  }

  handleEvent(): void {
    this.dispatchEvent(new CustomEvent('hive-open', { detail: { name: this.name }, bubbles: true, composed: true }));
  }

  get name(): string {
    return this.getAttribute('name') ?? '';
  }
  set name(value: string) {
    this.setAttribute('name', value);
  }
  get mood(): string {
    return this.getAttribute('mood')?.toLowerCase() === 'busy' ? 'busy' : 'calm';
  }
  set mood(value: string) {
    this.setAttribute('mood', value);
  }
  get boxes(): number {
    const number = Number.parseInt(this.getAttribute('boxes') ?? '', 10);
    return Number.isNaN(number) ? 1 : number;
  }
  set boxes(value: number) {
    this.setAttribute('boxes', `${value}`);
  }
}
customElements.define('bench-card', HandCard);
