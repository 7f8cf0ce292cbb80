const inside = document.createElement('template');
inside.innerHTML =
  '<button type="button" data-a="less">−</button><output></output><button type="button" data-a="more">+</button>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host{display:inline-flex;gap:6px}button{width:2em}');

export class XStep extends HTMLElement {
  static observedAttributes = ['value', 'step'];
  readonly #output0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#output0 = root.querySelector('output')!;
    root.addEventListener('click', this);
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#output0.textContent = `${this.value}`;
  }

  handleEvent(event: Event) {
    const action = (event.target as HTMLElement).dataset['a'];
    if (!action) return;
    if (action === 'less') this.value -= this.step;
    else if (action === 'more') this.value += this.step;
    this.dispatchEvent(new CustomEvent('step-change', { detail: this.value, bubbles: true, composed: true }));
  }

  get value() {
    const number = Number.parseInt(this.getAttribute('value') ?? '', 10);
    return Number.isNaN(number) ? 0 : number;
  }
  set value(value: number) {
    this.setAttribute('value', `${value}`);
  }
  get step() {
    const number = Number.parseInt(this.getAttribute('step') ?? '', 10);
    return Number.isNaN(number) ? 1 : number;
  }
  set step(value: number) {
    this.setAttribute('step', `${value}`);
  }
}
customElements.define('x-step', XStep);
