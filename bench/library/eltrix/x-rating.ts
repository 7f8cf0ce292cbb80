import { contract, integer, markup, positive, stylesheet } from 'eltrix';

export class XRating extends contract('x-rating', {
  attributes: {
    value: integer(),
    max: positive({ default: 5 }),
  },
}) {
  static styleSheets = [stylesheet`:host{display:inline-block;color:#d98a1f;letter-spacing:2px}`];

  view() {
    return markup`<span role="img" aria-label="${() => this.value} of ${() => this.max}">${() => '★'.repeat(this.value) + '☆'.repeat(Math.max(0, this.max - this.value))}</span>`;
  }
}
XRating.define();
