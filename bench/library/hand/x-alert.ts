const inside = document.createElement('template');
inside.innerHTML = '<p role="alert"></p><slot></slot><button type="button" data-a="close">Close</button>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host{display:flex;gap:8px}p{margin:0;flex:1}.warning{color:#8a5a00}.error{color:#8c2a14}');

export class XAlert extends HTMLElement {
  static observedAttributes = ['message', 'tone'];
  readonly #p0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#p0 = root.querySelector('p')!;
    root.addEventListener('click', this);
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#p0.className = this.tone;
    this.#p0.textContent = `${this.message}`;
  }

  handleEvent(event: Event) {
    const action = (event.target as HTMLElement).dataset['a'];
    if (!action) return;
    if (action === 'close') this.hidden = true;
    this.dispatchEvent(new CustomEvent('alert-close', { detail: null, bubbles: true, composed: true }));
  }

  get message() {
    return this.getAttribute('message') ?? '';
  }
  set message(value: string) {
    this.setAttribute('message', value);
  }
  get tone() {
    const text = this.getAttribute('tone')?.toLowerCase() ?? '';
    return ['info', 'warning', 'error'].includes(text) ? text : 'info';
  }
  set tone(value: string) {
    this.setAttribute('tone', value);
  }
}
customElements.define('x-alert', XAlert);
