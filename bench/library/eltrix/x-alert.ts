import { choice, contract, event, markup, stylesheet, text } from 'eltrix';

export class XAlert extends contract('x-alert', {
  attributes: {
    message: text(),
    tone: choice(['info', 'warning', 'error'], { missing: 'info', invalid: 'info' }),
  },
  events: { 'alert-close': event<null>() },
}) {
  static styleSheets = [
    stylesheet`:host{display:flex;gap:8px}p{margin:0;flex:1}.warning{color:#8a5a00}.error{color:#8c2a14}`,
  ];

  view() {
    return markup`<p role="alert" class=${() => this.tone}>${() => this.message}</p><slot></slot><button type="button" onclick=${this.close}>Close</button>`;
  }

  close() {
    this.hidden = true;
    this.emit('alert-close');
  }
}
XAlert.define();
