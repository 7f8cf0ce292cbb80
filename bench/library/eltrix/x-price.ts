import { contract, decimal, flag, markup, stylesheet, text } from 'eltrix';

export class XPrice extends contract('x-price', {
  attributes: {
    amount: decimal(),
    currency: text(),
    old: flag(),
  },
}) {
  static styleSheets = [
    stylesheet`:host{font-variant-numeric:tabular-nums}:host([old]) span{text-decoration:line-through}`,
  ];

  view() {
    return markup`<span>${() => this.amount.toFixed(2)}</span> <small>${() => this.currency}</small>`;
  }
}
XPrice.define();
