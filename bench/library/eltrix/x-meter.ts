import { contract, decimal, markup, stylesheet } from 'eltrix';

export class XMeter extends contract('x-meter', {
  attributes: {
    value: decimal(),
    max: decimal({ default: 100 }),
  },
}) {
  static styleSheets = [
    stylesheet`:host{display:block}div{height:8px;background:#eee;border-radius:4px;overflow:hidden}i{display:block;height:100%;background:#e2a21b}`,
  ];

  view() {
    return markup`<div role="meter" aria-valuenow=${() => this.value} aria-valuemax=${() => this.max}><i style=${() => ({ width: `${Math.min(100, (this.value / this.max) * 100)}%` })}></i></div>`;
  }
}
XMeter.define();
