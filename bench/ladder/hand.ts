/** The yardstick: three attributes, two slots, one event, one sheet, as they are written without a library. */
const template = document.createElement('template');
template.innerHTML =
  '<h3></h3><slot name="badge"><b></b></slot><p>Boxes: <span></span></p><button type="button">Open</button><slot></slot>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(`
  :host { display: block; padding: 0.75rem; border: 1px solid var(--hive-edge, #b59a5b); border-radius: 0.5rem }
  :host([mood='swarming']) b { color: #9b2c1f }
  h3 { margin: 0 0 0.25rem }
`);
const moods = ['calm', 'busy', 'swarming'];

export class HiveHand extends HTMLElement {
  static observedAttributes = ['name', 'boxes', 'mood'];
  #root: ShadowRoot;

  constructor() {
    super();
    this.#root = this.attachShadow({ mode: 'open' });
    this.#root.adoptedStyleSheets = [sheet];
    this.#root.append(template.content.cloneNode(true));
    this.#root.querySelector('button')!.addEventListener('click', () => this.open());
    this.#show();
  }

  get name(): string {
    return this.getAttribute('name') ?? '';
  }
  set name(value: string) {
    this.setAttribute('name', value);
  }

  get boxes(): number {
    const boxes = Number.parseInt(this.getAttribute('boxes') ?? '', 10);
    return Number.isNaN(boxes) ? 1 : boxes;
  }
  set boxes(value: number) {
    this.setAttribute('boxes', String(value));
  }

  get mood(): string {
    const mood = this.getAttribute('mood')?.toLowerCase() ?? '';
    return moods.includes(mood) ? mood : 'calm';
  }
  set mood(value: string) {
    this.setAttribute('mood', value);
  }

  attributeChangedCallback(): void {
    this.#show();
  }

  #show(): void {
    const root = this.#root;
    root.querySelector('h3')!.textContent = this.name;
    const badge = root.querySelector('b')!;
    badge.className = badge.textContent = this.mood;
    root.querySelector('span')!.textContent = String(this.boxes);
  }

  open(): void {
    this.dispatchEvent(new CustomEvent('hive-open', { detail: { name: this.name }, bubbles: true, composed: true }));
  }
}
customElements.define('hive-hand', HiveHand);
