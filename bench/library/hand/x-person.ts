const inside = document.createElement('template');
inside.innerHTML = '<slot name="picture"></slot><p><b></b><span></span></p>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(
  ':host{display:flex;gap:8px}:host([online]) b::after{content:" •";color:green}p{margin:0;display:grid}',
);

export class XPerson extends HTMLElement {
  static observedAttributes = ['name', 'role-name', 'online'];
  readonly #b0: HTMLElement;
  readonly #span1: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#b0 = root.querySelector('b')!;
    this.#span1 = root.querySelector('span')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#b0.textContent = `${this.name}`;
    this.#span1.textContent = `${this.roleName}`;
  }

  get name() {
    return this.getAttribute('name') ?? '';
  }
  set name(value: string) {
    this.setAttribute('name', value);
  }
  get roleName() {
    return this.getAttribute('role-name') ?? '';
  }
  set roleName(value: string) {
    this.setAttribute('role-name', value);
  }
  get online() {
    return this.hasAttribute('online');
  }
  set online(value: boolean) {
    this.toggleAttribute('online', value);
  }
}
customElements.define('x-person', XPerson);
