const inside = document.createElement('template');
inside.innerHTML = '<b></b><slot></slot>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(
  ':host{display:inline-block}b{padding:2px 8px;border-radius:99px;background:#eee}.busy{background:#fdecc4}.alarm{background:#fbdcd3}',
);

export class XBadge extends HTMLElement {
  static observedAttributes = ['label', 'tone'];
  readonly #b0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#b0 = root.querySelector('b')!;
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#b0.className = this.tone;
    this.#b0.textContent = `${this.label}`;
  }

  get label() {
    return this.getAttribute('label') ?? '';
  }
  set label(value: string) {
    this.setAttribute('label', value);
  }
  get tone() {
    const text = this.getAttribute('tone')?.toLowerCase() ?? '';
    return ['calm', 'busy', 'alarm'].includes(text) ? text : 'calm';
  }
  set tone(value: string) {
    this.setAttribute('tone', value);
  }
}
customElements.define('x-badge', XBadge);
