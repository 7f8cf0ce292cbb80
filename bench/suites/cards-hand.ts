import type { CardElement } from './cards.ts';

const inside = document.createElement('template');
inside.innerHTML =
  '<h3> </h3><slot name="badge"><b> </b></slot><p>Boxes: <span> </span></p><button type="button">Open</button><slot></slot>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host { display: block } :host([mood="busy"]) b { color: brown }');

class HandCard extends HTMLElement implements CardElement {
  static observedAttributes = ['name', 'boxes', 'mood'];
  readonly #name: Text;
  readonly #mood: Text;
  readonly #bold: HTMLElement;
  readonly #boxes: Text;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    const content = inside.content.cloneNode(true);
    const title = content.firstChild!;
    this.#name = title.firstChild as Text;
    const slot = title.nextSibling!;
    this.#bold = slot.firstChild as HTMLElement;
    this.#mood = this.#bold.firstChild as Text;
    this.#mood.data = this.#bold.className = 'calm';
    this.#name.data = '';
    const line = slot.nextSibling!;
    this.#boxes = line.lastChild!.firstChild as Text;
    this.#boxes.data = '1';
    line.nextSibling!.addEventListener('click', this);
    root.append(content);
  }

  attributeChangedCallback(name: string, before: string | null, after: string | null): void {
    if (before === after) return;
    if (name === 'name') this.#name.data = this.name;
    else if (name === 'mood') this.#mood.data = this.#bold.className = this.mood;
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
    const text = this.getAttribute('mood')?.toLowerCase();
    return text === 'busy' ? 'busy' : 'calm';
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
