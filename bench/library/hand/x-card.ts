const inside = document.createElement('template');
inside.innerHTML = '<article><h3><a></a></h3><slot></slot><footer><slot name="footer"></slot></footer></article>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(
  ':host{display:block}article{border:1px solid #ddd;border-radius:10px;padding:12px}:host([wide]) article{max-width:none}h3{margin:0}',
);

export class XCard extends HTMLElement {
  static observedAttributes = ['heading', 'href', 'wide'];
  readonly #a0: HTMLAnchorElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#a0 = root.querySelector('a')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#a0.setAttribute('href', `${this.href}`);
    this.#a0.textContent = `${this.heading}`;
  }

  get heading() {
    return this.getAttribute('heading') ?? '';
  }
  set heading(value: string) {
    this.setAttribute('heading', value);
  }
  get href() {
    return this.getAttribute('href') ?? '';
  }
  set href(value: string) {
    this.setAttribute('href', value);
  }
  get wide() {
    return this.hasAttribute('wide');
  }
  set wide(value: boolean) {
    this.toggleAttribute('wide', value);
  }
}
customElements.define('x-card', XCard);
