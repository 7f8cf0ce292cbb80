import { contract, event, flag, markup, stylesheet, text } from 'eltrix';

export class XToggle extends contract('x-toggle', {
  attributes: {
    on: flag(),
    label: text(),
  },
  events: { 'toggle-change': event<boolean>() },
}) {
  static styleSheets = [
    stylesheet`:host{display:inline-block}button{border-radius:99px;padding:4px 12px}:host([on]) button{background:#e2a21b}`,
  ];

  view() {
    return markup`<button type="button" role="switch" aria-checked=${() => String(this.on)} onclick=${this.toggle}>${() => this.label}</button>`;
  }

  toggle() {
    this.on = !this.on;
    this.emit('toggle-change', this.on);
  }
}
XToggle.define();
