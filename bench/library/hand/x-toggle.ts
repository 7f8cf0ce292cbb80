const inside = document.createElement('template');
inside.innerHTML = '<button type="button" role="switch" data-a="toggle"></button>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(
  ':host{display:inline-block}button{border-radius:99px;padding:4px 12px}:host([on]) button{background:#e2a21b}',
);

export class XToggle extends HTMLElement {
  static observedAttributes = ['on', 'label'];
  readonly #button0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#button0 = root.querySelector('button')!;
    root.addEventListener('click', this);
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#button0.setAttribute('aria-checked', `${this.on}`);
    this.#button0.textContent = `${this.label}`;
  }

  handleEvent(event: Event) {
    const action = (event.target as HTMLElement).dataset['a'];
    if (!action) return;
    if (action === 'toggle') this.on = !this.on;
    this.dispatchEvent(new CustomEvent('toggle-change', { detail: this.on, bubbles: true, composed: true }));
  }

  get on() {
    return this.hasAttribute('on');
  }
  set on(value: boolean) {
    this.toggleAttribute('on', value);
  }
  get label() {
    return this.getAttribute('label') ?? '';
  }
  set label(value: string) {
    this.setAttribute('label', value);
  }
}
customElements.define('x-toggle', XToggle);
