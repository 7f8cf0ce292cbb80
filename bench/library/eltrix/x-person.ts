import { contract, flag, markup, stylesheet, text } from 'eltrix';

export class XPerson extends contract('x-person', {
  attributes: {
    name: text(),
    roleName: text(),
    online: flag(),
  },
}) {
  static styleSheets = [
    stylesheet`:host{display:flex;gap:8px}:host([online]) b::after{content:" •";color:green}p{margin:0;display:grid}`,
  ];

  view() {
    return markup`<slot name="picture"></slot><p><b>${() => this.name}</b><span>${() => this.roleName}</span></p>`;
  }
}
XPerson.define();
