const inside = document.createElement('template');
inside.innerHTML =
  '<button type="button" data-a="back">‹</button><span></span><button type="button" data-a="next">›</button>';
const sheet = new CSSStyleSheet();
sheet.replaceSync(':host{display:inline-flex;gap:8px;align-items:center}button{width:2em}');

export class XPager extends HTMLElement {
  static observedAttributes = ['page', 'pages'];
  readonly #span0: HTMLElement;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    root.adoptedStyleSheets = [sheet];
    root.append(inside.content.cloneNode(true));
    this.#span0 = root.querySelector('span')!;
    root.addEventListener('click', this);
    this.show();
  }

  attributeChangedCallback() {
    this.show();
  }

  show() {
    this.#span0.textContent = `${this.page} of ${this.pages}`;
  }

  handleEvent(event: Event) {
    const action = (event.target as HTMLElement).dataset['a'];
    if (!action) return;
    if (action === 'back') this.page -= 1;
    else if (action === 'next') this.page += 1;
    this.dispatchEvent(new CustomEvent('page-change', { detail: this.page, bubbles: true, composed: true }));
  }

  get page() {
    const number = Number.parseInt(this.getAttribute('page') ?? '', 10);
    return Number.isNaN(number) ? 1 : number;
  }
  set page(value: number) {
    this.setAttribute('page', `${value}`);
  }
  get pages() {
    const number = Number.parseInt(this.getAttribute('pages') ?? '', 10);
    return Number.isNaN(number) ? 1 : number;
  }
  set pages(value: number) {
    this.setAttribute('pages', `${value}`);
  }
}
customElements.define('x-pager', XPager);
