import { contract, flag, markup, stylesheet, text } from 'eltrix';

export class XCard extends contract('x-card', {
  attributes: {
    heading: text(),
    href: text(),
    wide: flag(),
  },
}) {
  static styleSheets = [
    stylesheet`:host{display:block}article{border:1px solid #ddd;border-radius:10px;padding:12px}:host([wide]) article{max-width:none}h3{margin:0}`,
  ];

  view() {
    return markup`<article><h3><a href=${() => this.href}>${() => this.heading}</a></h3><slot></slot><footer><slot name="footer"></slot></footer></article>`;
  }
}
XCard.define();
