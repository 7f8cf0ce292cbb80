const inside = document.createElement('template');
inside.innerHTML = '<span role="img"></span>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host{display:inline-block;color:#d98a1f;letter-spacing:2px}');

export class XRating extends HTMLElement {
  static observedAttributes = ['value', 'max'];
  readonly #span0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#span0 = root.querySelector('span')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#span0.setAttribute('aria-label', `${this.value} of ${this.max}`);
    this.#span0.textContent = `${'★'.repeat(this.value) + '☆'.repeat(Math.max(0, this.max - this.value))}`;
  }

  get value() {
    const number = Number.parseInt(this.getAttribute('value') ?? '', 10);
    return Number.isNaN(number) ? 0 : number;
  }
  set value(value: number) {
    this.setAttribute('value', `${value}`);
  }
  get max() {
    const number = Number.parseInt(this.getAttribute('max') ?? '', 10);
    return Number.isNaN(number) ? 5 : number;
  }
  set max(value: number) {
    this.setAttribute('max', `${value}`);
  }
}
customElements.define('x-rating', XRating);
