const inside = document.createElement('template');
inside.innerHTML = '<span></span> <small></small>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host{font-variant-numeric:tabular-nums}:host([old]) span{text-decoration:line-through}');

export class XPrice extends HTMLElement {
  static observedAttributes = ['amount', 'currency', 'old'];
  readonly #span0: HTMLElement;
  readonly #small1: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#span0 = root.querySelector('span')!;
    this.#small1 = root.querySelector('small')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#span0.textContent = `${this.amount.toFixed(2)}`;
    this.#small1.textContent = `${this.currency}`;
  }

  get amount() {
    const number = Number.parseFloat(this.getAttribute('amount') ?? '');
    return Number.isNaN(number) ? 0 : number;
  }
  set amount(value: number) {
    this.setAttribute('amount', `${value}`);
  }
  get currency() {
    return this.getAttribute('currency') ?? '';
  }
  set currency(value: string) {
    this.setAttribute('currency', value);
  }
  get old() {
    return this.hasAttribute('old');
  }
  set old(value: boolean) {
    this.toggleAttribute('old', value);
  }
}
customElements.define('x-price', XPrice);
