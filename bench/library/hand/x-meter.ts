const inside = document.createElement('template');
inside.innerHTML = '<div role="meter"><i></i></div>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(
  ':host{display:block}div{height:8px;background:#eee;border-radius:4px;overflow:hidden}i{display:block;height:100%;background:#e2a21b}',
);

export class XMeter extends HTMLElement {
  static observedAttributes = ['value', 'max'];
  readonly #div0: HTMLElement;
  readonly #i1: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#div0 = root.querySelector('div')!;
    this.#i1 = root.querySelector('i')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#div0.setAttribute('aria-valuenow', `${this.value}`);
    this.#div0.setAttribute('aria-valuemax', `${this.max}`);
    this.#i1.style.width = `${Math.min(100, (this.value / this.max) * 100)}%`;
  }

  get value() {
    const number = Number.parseFloat(this.getAttribute('value') ?? '');
    return Number.isNaN(number) ? 0 : number;
  }
  set value(value: number) {
    this.setAttribute('value', `${value}`);
  }
  get max() {
    const number = Number.parseFloat(this.getAttribute('max') ?? '');
    return Number.isNaN(number) ? 100 : number;
  }
  set max(value: number) {
    this.setAttribute('max', `${value}`);
  }
}
customElements.define('x-meter', XMeter);
